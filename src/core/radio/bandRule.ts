/** What a client looks for first where several bands are loud enough. */
export const PREFERENCES = ['highest', 'lowest', 'loudest'] as const;
export type Preference = (typeof PREFERENCES)[number];

/** How a client takes a band: the one it prefers among those whose strongest radio it hears at `fromDbm` or more; where none is as loud, the loudest. */
export type BandRule = Readonly<{ prefers: Preference; fromDbm: number }>;

/** A working value, as many clients are set: the highest band that is heard well. */
export const COMMON_RULE: BandRule = { prefers: 'highest', fromDbm: -70 };

/**
 * Which of some bands a client takes, as its place among them.
 * @param strongestDbm of each band, lowest first, what the client hears loudest there; -Infinity where it hears nobody
 */
export function bandTaken({ prefers, fromDbm }: BandRule, strongestDbm: ArrayLike<number>): number {
  let [taken, loudest] = [-1, 0];
  for (let i = 0; i < strongestDbm.length; i++) {
    if (strongestDbm[i]! > strongestDbm[loudest]!) loudest = i;
    if (strongestDbm[i]! >= fromDbm && (taken < 0 || prefers === 'highest')) taken = i;
  }
  return taken < 0 || prefers === 'loudest' ? loudest : taken;
}

const dbm = (level: number): string => `${String(level).replace('-', '−')} dBm`;

/** The rule in a table. */
export const bandRuleText = ({ prefers, fromDbm }: BandRule): string => (prefers === 'loudest' ? prefers : `${prefers}, ${dbm(fromDbm)}`);

/** The rule in words. */
export const bandRuleWords = ({ prefers, fromDbm }: BandRule): string =>
  prefers === 'loudest' ? 'the loudest band' : `the ${prefers} band from ${dbm(fromDbm)}`;
