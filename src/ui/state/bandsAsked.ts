import { BANDS, type Band } from '@/core/radio/band';
import { bandTaken } from '@/core/radio/bandRule';
import type { ClientType } from '@/core/radio/clientTypes';
import type { Session } from './sessionStore';

export type BandAsked = Pick<Session, 'band' | 'byClient' | 'source'>;

/** Whether the client takes its band by its rule. A measured map is of one band. */
export const takesBand = ({ byClient, source }: Pick<BandAsked, 'byClient' | 'source'>): boolean => byClient && source === 'predicted';

/** The bands that a map or a readout is of, lowest first: all that the client knows where it takes one by its rule, else the one that is chosen, if it knows it. */
export const bandsAsked = (asked: BandAsked, { bands }: Pick<ClientType, 'bands'>): Band[] =>
  BANDS.filter((band) => bands.includes(band) && (takesBand(asked) || band === asked.band));

/** Of what is known of a spot in each of those bands, that of the band which the client takes; null where it knows none of them. */
export const ofBandTaken = <T>(client: Pick<ClientType, 'bandRule'>, of: readonly T[], strongestDbm: (one: T) => number): T | null =>
  of.length < 2 ? (of[0] ?? null) : of[bandTaken(client.bandRule, of.map(strongestDbm))]!;

/** The band of a map in words. */
export const bandWords = ({ band, byClient }: Readonly<{ band: Band; byClient: boolean }>): string =>
  byClient ? 'band as the client takes it' : `${band} GHz`;
