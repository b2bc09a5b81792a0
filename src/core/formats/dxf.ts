import DxfParser, { type IDxf, type IEntity } from 'dxf-parser';
import { UpperRoomError } from '../errors';

/** A word of a drawing: where its foot begins, how high and which way (degrees, anticlockwise) it is written, in the drawing's own units with y upward. */
export type DxfWord = Readonly<{ text: string; x: number; y: number; height: number; turnDeg: number }>;

/**
 * The lines of a layer, as polylines in the drawing's own units with y upward: `spots` holds x, y in turn, `starts` where each polyline begins
 * (and, last, where the last one ends), `dashed` which of them are.
 */
export type DxfLayer = Readonly<{ name: string; spots: Float64Array; starts: Uint32Array; dashed: Uint8Array; words: readonly DxfWord[] }>;

/** The lines and words of a DXF by layer. `mPerUnit` is null where the drawing does not say its unit. */
export type DxfDrawing = Readonly<{ layers: readonly DxfLayer[]; mPerUnit: number | null }>;

/** $INSUNITS (DXF reference, header variables) in metres. */
const M_PER_UNIT: Readonly<Record<number, number>> = { 1: 0.0254, 2: 0.3048, 3: 1609.344, 4: 0.001, 5: 0.01, 6: 1, 7: 1000, 10: 0.9144, 14: 0.1 };

/** More lines than any floor has; what exceeds it would only stop the page. */
const MAX_SPOTS = 4_000_000;
const MAX_DEPTH = 8;
const CHORD = Math.PI / 24;

type Place = Readonly<{ x: number; y: number; scaleX: number; scaleY: number; turn: number }>;
type Chain = Array<readonly [number, number]>;

/** @throws UpperRoomError DRAWING_BROKEN, DRAWING_EMPTY, DRAWING_TOO_LARGE */
export function readDxf(text: string): DxfDrawing {
  let dxf: IDxf | null;
  try {
    dxf = new DxfParser().parseSync(text);
  } catch (error) {
    throw new UpperRoomError('DRAWING_BROKEN', { problem: (error as Error).message.slice(0, 120) });
  }
  const layers = new Map<string, { spots: number[]; starts: number[]; dashed: number[]; words: DxfWord[] }>();
  const layerOf = (name: string) => {
    const layer = layers.get(name) ?? { spots: [], starts: [], dashed: [], words: [] };
    layers.set(name, layer);
    return layer;
  };
  const dashes = new Map(
    Object.entries(dxf?.tables?.lineType?.lineTypes ?? {}).map(([name, { pattern }]) => [name.toUpperCase(), (pattern ?? []).length > 1]),
  );
  let count = 0;
  const draw = (layerName: string, chain: Chain, dashed: boolean, places: readonly Place[]): void => {
    if (chain.length < 2) return;
    count += chain.length;
    if (count > MAX_SPOTS) throw new UpperRoomError('DRAWING_TOO_LARGE', { problem: `more than ${MAX_SPOTS} points` });
    const layer = layerOf(layerName);
    layer.starts.push(layer.spots.length);
    layer.dashed.push(dashed ? 1 : 0);
    for (const spot of chain) layer.spots.push(...places.reduceRight(placed, spot));
  };
  const write = (layerName: string, word: DxfWord, places: readonly Place[]): void => {
    const [x, y] = places.reduceRight(placed, [word.x, word.y] as const);
    const turn = places.reduce((sum, place) => sum + place.turn, 0);
    const scale = places.reduce((product, { scaleY }) => product * Math.abs(scaleY), 1);
    layerOf(layerName).words.push({ ...word, x, y, height: word.height * scale, turnDeg: word.turnDeg + (turn * 180) / Math.PI });
  };
  /** `within`: the layer of the dimension whose block is walked; what is in it belongs there. */
  const walk = (entities: readonly IEntity[], places: readonly Place[], within: string | null): void => {
    for (const entity of entities) {
      const layerName = within ?? (entity.layer || '0');
      if (entity.type === 'DIMENSION') {
        // Its block holds it as it is seen: lines, arrows and the length, where the drawing has them.
        const block = dxf?.blocks?.[(entity as unknown as { block?: string }).block ?? ''];
        if (block?.entities !== undefined && places.length < MAX_DEPTH) walk(block.entities, places, layerName);
        continue;
      }
      const word = wordOf(entity);
      if (word !== null) {
        write(layerName, word, places);
        continue;
      }
      if (entity.type === 'INSERT') {
        const insert = entity as unknown as Insert;
        const block = dxf?.blocks?.[insert.name];
        if (block?.entities === undefined || places.length >= MAX_DEPTH) continue;
        const { x, y } = insert.position;
        walk(
          block.entities,
          [...places, { x, y, scaleX: insert.xScale ?? 1, scaleY: insert.yScale ?? 1, turn: ((insert.rotation ?? 0) * Math.PI) / 180 }],
          within,
        );
      } else for (const chain of chainsOf(entity)) draw(layerName, chain, dashes.get((entity.lineType ?? '').toUpperCase()) ?? false, places);
    }
  };
  walk(dxf?.entities ?? [], [], null);
  if (count === 0) throw new UpperRoomError('DRAWING_EMPTY');
  const unit = dxf?.header?.$INSUNITS;
  return {
    mPerUnit: typeof unit === 'number' ? (M_PER_UNIT[unit] ?? null) : null,
    layers: [...layers].map(([name, { spots, starts, dashed, words }]) => ({
      name,
      spots: Float64Array.from(spots),
      starts: Uint32Array.from([...starts, spots.length]),
      dashed: Uint8Array.from(dashed),
      words,
    })),
  };
}

/** TEXT and MTEXT; of the latter without its marks of form (DXF reference, MTEXT: backslash codes and braces). Null for what is no word. */
function wordOf(entity: IEntity): DxfWord | null {
  if (entity.type === 'TEXT') {
    const { text, startPoint, textHeight, rotation } = entity as unknown as {
      text?: string;
      startPoint?: Vertex;
      textHeight?: number;
      rotation?: number;
    };
    return text === undefined || startPoint === undefined
      ? null
      : { text, x: startPoint.x, y: startPoint.y, height: textHeight ?? 0, turnDeg: rotation ?? 0 };
  }
  if (entity.type !== 'MTEXT') return null;
  const {
    text = '',
    position,
    height = 0,
    rotation = 0,
    attachmentPoint = 1,
  } = entity as unknown as { text?: string; position?: Vertex; height?: number; rotation?: number; attachmentPoint?: number };
  if (position === undefined) return null;
  const plain = text.replace(/\\[A-Za-z][^;\\]*;|\\[A-Za-z~]|[{}]/g, '').trim();
  // Attachment points 1 to 9 run by rows from the top left; a letter is about 0.6 as wide as high.
  const right = ((attachmentPoint - 1) % 3) * 0.5 * plain.length * 0.6 * height;
  const up = [1, 0.5, 0][Math.floor((attachmentPoint - 1) / 3)]! * height;
  const [cos, sin] = [Math.cos((rotation * Math.PI) / 180), Math.sin((rotation * Math.PI) / 180)];
  return { text: plain, x: position.x - right * cos + up * sin, y: position.y - right * sin - up * cos, height, turnDeg: rotation };
}

type Insert = { name: string; position: { x: number; y: number }; xScale?: number; yScale?: number; rotation?: number };
type Vertex = { x: number; y: number; bulge?: number };

function placed([x, y]: readonly [number, number], { x: dx, y: dy, scaleX, scaleY, turn }: Place): readonly [number, number] {
  const [cos, sin] = [Math.cos(turn), Math.sin(turn)];
  return [dx + x * scaleX * cos - y * scaleY * sin, dy + x * scaleX * sin + y * scaleY * cos];
}

/** What of an entity is a line; text and hatches are not. */
function chainsOf(entity: IEntity): Chain[] {
  if (entity.type === 'LINE') return [(entity as unknown as { vertices: Vertex[] }).vertices.map(({ x, y }) => [x, y] as const)];
  if (entity.type === 'LWPOLYLINE' || entity.type === 'POLYLINE') {
    const { vertices, shape } = entity as unknown as { vertices: Vertex[]; shape?: boolean };
    const ring = shape === true && vertices.length > 2 ? [...vertices, vertices[0]!] : vertices;
    return [ring.flatMap((vertex, i): Chain => (i === 0 ? [[vertex.x, vertex.y]] : bulged(ring[i - 1]!, vertex)))];
  }
  if (entity.type === 'CIRCLE' || entity.type === 'ARC') {
    const {
      center,
      radius,
      startAngle = 0,
      endAngle = 2 * Math.PI,
    } = entity as unknown as {
      center: Vertex;
      radius: number;
      startAngle?: number;
      endAngle?: number;
    };
    const sweep = endAngle > startAngle ? endAngle - startAngle : endAngle - startAngle + 2 * Math.PI;
    return [arc(center.x, center.y, radius, startAngle, sweep)];
  }
  return [];
}

function arc(x: number, y: number, radius: number, from: number, sweep: number): Chain {
  const steps = Math.max(1, Math.ceil(Math.abs(sweep) / CHORD));
  return Array.from(
    { length: steps + 1 },
    (_, i) => [x + radius * Math.cos(from + (sweep * i) / steps), y + radius * Math.sin(from + (sweep * i) / steps)] as const,
  );
}

/** A piece of a polyline: a chord, or an arc of which the bulge is the tangent of a quarter of its angle (DXF reference, LWPOLYLINE, group 42). */
function bulged(a: Vertex, b: Vertex): Chain {
  const bulge = a.bulge ?? 0;
  if (Math.abs(bulge) < 1e-9) return [[b.x, b.y]];
  const sweep = 4 * Math.atan(bulge);
  const chord = Math.hypot(b.x - a.x, b.y - a.y);
  const radius = chord / (2 * Math.sin(sweep / 2));
  const away = radius * Math.cos(sweep / 2);
  const [ux, uy] = [(b.x - a.x) / chord, (b.y - a.y) / chord];
  const [cx, cy] = [(a.x + b.x) / 2 - uy * away, (a.y + b.y) / 2 + ux * away];
  return arc(cx, cy, Math.abs(radius), Math.atan2(a.y - cy, a.x - cx), sweep).slice(1);
}
