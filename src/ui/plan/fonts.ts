/** The faces that a sheet is written in. */
const FAMILIES = ['Inter', 'IBM Plex Mono', 'Source Serif 4'];
/** A letter that only the faces of the Latin alphabet hold: those for other scripts stay away, or a picture would weigh megabytes. */
const LATIN = 'U+0-FF';

let faces: Promise<string> | null = null;

/** The page's own fonts as a style sheet that holds them, for pictures that leave the page. What cannot be fetched is left to the reader's fonts. */
export function embeddedFonts(): Promise<string> {
  return (faces ??= collect());
}

async function collect(): Promise<string> {
  const rules = [...document.styleSheets].flatMap((sheet) => fontRules(sheet));
  const texts = await Promise.all(rules.map(embedded));
  const missing = texts.some((text) => text === '');
  // Asked again next time, when the network may be there.
  if (missing) faces = null;
  return texts.join('\n');
}

function fontRules(sheet: CSSStyleSheet): CSSFontFaceRule[] {
  const rules = [...sheet.cssRules].filter((rule) => rule instanceof CSSFontFaceRule);
  return rules.filter(({ style }) => {
    const family = style.getPropertyValue('font-family').replaceAll('"', '');
    const range = style.getPropertyValue('unicode-range').toUpperCase().replaceAll('U+0000-00FF', LATIN);
    return FAMILIES.includes(family) && (range === '' || range.includes(LATIN));
  });
}

async function embedded({ style, parentStyleSheet }: CSSFontFaceRule): Promise<string> {
  const source = /url\("?([^")]+woff2[^")]*)"?\)/.exec(style.getPropertyValue('src'))?.[1];
  if (source === undefined) return '';
  try {
    const answer = await fetch(new URL(source, parentStyleSheet?.href ?? document.baseURI));
    if (!answer.ok) throw new Error(`the server answers ${answer.status}`);
    const blob = await answer.blob();
    const data = await new Promise<string>((resolve, reject) => {
      const reader = new FileReader();
      reader.onload = () => resolve(reader.result as string);
      reader.onerror = () => reject(reader.error ?? new Error('unreadable'));
      reader.readAsDataURL(blob);
    });
    const word = (name: string) => style.getPropertyValue(name);
    return `@font-face{font-family:${word('font-family')};font-weight:${word('font-weight')};font-style:${word('font-style')};src:url(${data}) format("woff2")}`;
  } catch (error) {
    console.warn('A font could not be fetched; the picture is written in another.', error);
    return '';
  }
}
