import type { Tokens } from './tokens';

/** Numbers, lines and names of a chart's axis in the inks of the page. */
export const chartAxis = (t: Tokens) => ({
  axisLabel: { color: t.ink2, fontFamily: 'IBM Plex Mono', fontSize: 10.5 },
  axisLine: { lineStyle: { color: t.rule } },
  splitLine: { lineStyle: { color: t.rule } },
  nameTextStyle: { color: t.ink2, fontFamily: 'Inter', fontSize: 11 },
});
