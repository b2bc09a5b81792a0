import svgpath from 'svgpath';
import type { WrittenWord } from '@/core/finding/written';
import { UpperRoomError } from '@/core/errors';
import { LONGER_PX, breathe, paperFor, straightLines, type Part, type Shown, type VectorFile, type Vectors } from './vectors';

const SVG = 'http://www.w3.org/2000/svg';
const DRAWN = 'path,line,polyline,polygon,rect';
const DASHED = 'data-dashed';
/** Elements looked at before the page is let breathe. */
const AT_ONCE = 1500;

/** What an SVG may not bring along: code, foreign content, and links to anywhere but itself. */
export function harmlessSvg(text: string): SVGSVGElement {
  const parsed = new DOMParser().parseFromString(text, 'image/svg+xml');
  const root = parsed.documentElement;
  if (parsed.querySelector('parsererror') !== null || root.localName !== 'svg') throw new UpperRoomError('DRAWING_BROKEN');
  for (const element of [...root.querySelectorAll('*')]) {
    if (['script', 'foreignObject', 'iframe', 'audio', 'video', 'a', 'animate', 'set'].includes(element.localName)) element.remove();
  }
  for (const element of [root, ...root.querySelectorAll('*')]) {
    for (const { name, value } of [...element.attributes]) {
      const outside = /href$/i.test(name) && !/^(#|data:image\/(png|jpeg|webp))/i.test(value.trim());
      if (/^on/i.test(name) || outside || /url\(\s*['"]?(?!#)/i.test(value)) element.removeAttribute(name);
    }
    if (element.localName === 'style' && /@import|url\(\s*['"]?(?!#)/i.test(element.textContent ?? '')) element.remove();
  }
  return root as unknown as SVGSVGElement;
}

/** @throws UpperRoomError DRAWING_BROKEN */
export function openSvg(text: string): VectorFile {
  const svg = harmlessSvg(text);
  const box = (svg.getAttribute('viewBox') ?? '')
    .trim()
    .split(/[\s,]+/)
    .map(Number);
  const side = (name: 'width' | 'height', fallback: number | undefined) => {
    const px = Number.parseFloat(svg.getAttribute(name) ?? '');
    return Number.isFinite(px) && px > 0 && !svg.getAttribute(name)!.endsWith('%') ? px : (fallback ?? 0);
  };
  const [width, height] = [side('width', box[2]), side('height', box[3])];
  if (!(width > 0 && height > 0)) throw new UpperRoomError('DRAWING_BROKEN', { problem: 'the SVG has no size' });
  if (box.length !== 4) svg.setAttribute('viewBox', `0 0 ${width} ${height}`);
  const scale = LONGER_PX / Math.max(width, height);
  const whole: Part = { leftPx: 0, topPx: 0, widthPx: Math.round(width * scale), heightPx: Math.round(height * scale) };
  svg.setAttribute('width', String(whole.widthPx));
  svg.setAttribute('height', String(whole.heightPx));
  // Dashes are asked of the browser once, for they may come from a style sheet.
  let marked: Promise<void> | null = null;
  const vectors: Vectors = {
    ...whole,
    mPerPx: null,
    paint: async (part, perPx, shown) => {
      if (shown === 'walls') await (marked ??= mounted(svg, whole, markDashed));
      return painted(svg, part, perPx, shown);
    },
    read: () => mounted(svg, whole, readSheet),
  };
  return { choice: null, open: () => Promise.resolve(vectors), close: () => undefined };
}

async function painted(svg: SVGSVGElement, part: Part, perPx: number, shown: Shown): Promise<HTMLCanvasElement> {
  const frame = framed(svg.cloneNode(true) as SVGSVGElement, part, perPx);
  if (shown === 'walls') for (const element of frame.querySelectorAll(`text,[${DASHED}]`)) element.remove();
  const url = URL.createObjectURL(new Blob([new XMLSerializer().serializeToString(frame)], { type: 'image/svg+xml' }));
  try {
    const image = new Image();
    image.src = url;
    await image.decode().catch(() => {
      throw new UpperRoomError('DRAWING_BROKEN');
    });
    const [canvas, context] = paperFor(part, perPx);
    context.drawImage(image, 0, 0, canvas.width, canvas.height);
    return canvas;
  } finally {
    URL.revokeObjectURL(url);
  }
}

/** The drawing within a frame whose units are px of the picture: whatever the drawing's own are, a part is told in those. */
function framed(svg: SVGSVGElement, { leftPx, topPx, widthPx, heightPx }: Part, perPx: number): SVGSVGElement {
  const frame = document.createElementNS(SVG, 'svg');
  frame.setAttribute('viewBox', `${leftPx} ${topPx} ${widthPx} ${heightPx}`);
  frame.setAttribute('width', String(widthPx * perPx));
  frame.setAttribute('height', String(heightPx * perPx));
  frame.append(svg);
  return frame;
}

/** Puts the drawing on the page, out of sight and apart from the page's own styles, for as long as the browser is asked about it. */
async function mounted<T>(svg: SVGSVGElement, whole: Part, ask: (frame: SVGSVGElement, svg: SVGSVGElement) => Promise<T>): Promise<T> {
  const host = document.createElement('div');
  host.setAttribute('aria-hidden', 'true');
  host.inert = true;
  host.style.cssText = `position:fixed;left:0;top:0;width:${whole.widthPx}px;height:${whole.heightPx}px;opacity:0;pointer-events:none;z-index:-1;contain:strict`;
  const root = host.attachShadow({ mode: 'closed' });
  root.adoptedStyleSheets = [...svg.querySelectorAll('style')].map(({ textContent }) => {
    const rules = new CSSStyleSheet();
    rules.replaceSync(textContent ?? '');
    return rules;
  });
  const frame = framed(svg, whole, 1);
  root.append(frame);
  document.body.append(host);
  try {
    return await ask(frame, svg);
  } finally {
    host.remove();
    svg.remove();
  }
}

async function markDashed(_frame: SVGSVGElement, svg: SVGSVGElement): Promise<void> {
  let seen = 0;
  for (const element of svg.querySelectorAll<SVGElement>(`${DRAWN},circle,ellipse`)) {
    const { strokeDasharray, stroke } = getComputedStyle(element);
    if (stroke !== 'none' && strokeDasharray !== 'none') element.setAttribute(DASHED, '');
    if (++seen % AT_ONCE === 0) await breathe();
  }
}

async function readSheet(frame: SVGSVGElement, svg: SVGSVGElement) {
  const toSheet = frame.getScreenCTM()!.inverse();
  const onSheet = (element: SVGGraphicsElement): DOMMatrix | null => {
    const place = element.getScreenCTM();
    return place === null ? null : toSheet.multiply(place);
  };
  const words: WrittenWord[] = [];
  for (const element of svg.querySelectorAll('text')) {
    const place = onSheet(element);
    const text = (element.textContent ?? '').trim();
    if (place === null || text === '') continue;
    const box = element.getBBox();
    const middle = new DOMPoint(box.x + box.width / 2, box.y + box.height / 2).matrixTransform(place);
    words.push({ text, x: middle.x, y: middle.y, heightPx: Number.parseFloat(getComputedStyle(element).fontSize) * Math.hypot(place.c, place.d) });
  }
  const lines = straightLines();
  let seen = 0;
  for (const element of svg.querySelectorAll<SVGGeometryElement>(DRAWN)) {
    const place = element.closest('defs,symbol,clipPath,mask') === null ? onSheet(element) : null;
    if (place !== null) addStraights(pathOf(element), place, lines.add);
    if (++seen % AT_ONCE === 0) await breathe();
  }
  return { words, straights: lines.done() };
}

/** An element's outline as path data; of a rounded rectangle the four sides. */
function pathOf(element: SVGGeometryElement): string {
  const value = (name: string): number => Number.parseFloat(element.getAttribute(name) ?? '0') || 0;
  switch (element.localName) {
    case 'line':
      return `M${value('x1')} ${value('y1')}L${value('x2')} ${value('y2')}`;
    case 'rect':
      return `M${value('x')} ${value('y')}h${value('width')}v${value('height')}h${-value('width')}z`;
    case 'path':
      return element.getAttribute('d') ?? '';
    default:
      return `M${element.getAttribute('points') ?? ''}${element.localName === 'polygon' ? 'z' : ''}`;
  }
}

function addStraights(data: string, { a, b, c, d, e, f }: DOMMatrix, add: (ax: number, ay: number, bx: number, by: number) => void): void {
  const put = (ax: number, ay: number, bx: number, by: number) =>
    add(a * ax + c * ay + e, b * ax + d * ay + f, a * bx + c * by + e, b * bx + d * by + f);
  let [startX, startY] = [0, 0];
  svgpath(data)
    .abs()
    .iterate((segment, _index, x, y) => {
      switch (segment[0]) {
        case 'M':
          [startX, startY] = [segment[1], segment[2]];
          break;
        case 'L':
          put(x, y, segment[1], segment[2]);
          break;
        case 'H':
          put(x, y, segment[1], y);
          break;
        case 'V':
          put(x, y, x, segment[1]);
          break;
        case 'Z':
        case 'z':
          put(x, y, startX, startY);
          break;
        default:
      }
    });
}
