import type { WebDriver } from 'selenium-webdriver';

/** Smallest side of what is clicked, and smallest text, in px of the screen. */
const LEAST = { targetPx: 24, textPx: 11.5 };

const LOOK = `
  const [targetPx, textPx] = arguments;
  const shown = (e) => { const r = e.getBoundingClientRect(), s = getComputedStyle(e); return r.width > 0 && r.height > 0 && s.visibility !== 'hidden' && Number(s.opacity) > 0.05; };
  const named = (e, what) => (e.getAttribute('aria-label') || e.textContent || e.tagName).trim().slice(0, 40) + ': ' + what;
  const found = new Set();
  for (const e of document.querySelectorAll('button, a[href], select, input, textarea, [role=button], [role=tab], [role=slider], [tabindex="0"]')) {
    // A file is chosen by a button that stands for the unseen input.
    if (e.type === 'file') continue;
    // Walls and areas are as thin as they are drawn; they are picked with a reach around the pointer.
    if (!shown(e) || (e.closest('[data-testid=plan]') && !e.hasAttribute('data-ap'))) continue;
    // A tick box is drawn, and clicked, as its frame.
    const { width, height } = (e.type === 'checkbox' ? e.parentElement : e).getBoundingClientRect();
    if (Math.min(width, height) < targetPx - 0.1) found.add(named(e, width.toFixed(1) + ' x ' + height.toFixed(1) + ' px'));
  }
  const texts = document.createTreeWalker(document.body, NodeFilter.SHOW_TEXT);
  for (let text = texts.nextNode(); text; text = texts.nextNode()) {
    const e = text.parentElement;
    if (!text.textContent.trim() || e.closest('script, style, option') || !shown(e)) continue;
    const scale = e.getScreenCTM ? Math.hypot(e.getScreenCTM().a, e.getScreenCTM().b) : 1;
    const px = parseFloat(getComputedStyle(e).fontSize) * scale;
    if (px < textPx - 0.05) found.add(named(e, 'text of ' + px.toFixed(1) + ' px'));
  }
  // A workbench fills its window; something that hangs out below would push all of it when it gets the focus.
  if (document.querySelector('.bench') && document.documentElement.scrollHeight > innerHeight) found.add('the page is ' + document.documentElement.scrollHeight + ' px high');
  return [...found];`;

/** What in view is too small to hit or to read, by name. */
export const tooSmall = (driver: WebDriver): Promise<string[]> => driver.executeScript(LOOK, LEAST.targetPx, LEAST.textPx);
