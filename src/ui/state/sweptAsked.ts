import { lensOf } from '@/core/fields/lenses';
import type { PlacedLook } from '@/core/survey/heard';
import { channelsSwept, kindsTold, type SweptAsked } from '@/core/survey/swept';
import type { Design } from '@/core/design/design';
import type { ClientType } from '@/core/radio/clientTypes';
import { sceneEmitters } from '@/engine/disturbers';
import type { SceneEmitter } from '@/engine/protocol';
import { bandsAsked } from './bandsAsked';
import { SIGNAL_WORDS } from './signalWords';
import type { Session } from './sessionStore';

/**
 * What a lens asks of what a swept receiver found; null for lenses that ask for nothing of it. A channel that was not swept stands for all; without a kind of signal, or of one that was not
 * told, it is the one that was told most often, and null where none was.
 */
export function sweptAsked(
  { lens, band, sweptChannel, signalKind }: Pick<Session, 'lens' | 'band' | 'sweptChannel' | 'signalKind'>,
  looks: readonly PlacedLook[],
): SweptAsked | null {
  const what = lensOf(lens).swept;
  if (what === null) return null;
  if (what !== 'signal') return { what, channel: sweptChannel !== null && channelsSwept(looks, band).includes(sweptChannel) ? sweptChannel : null };
  const told = kindsTold(looks, band);
  const most = [...told].reduce<[Session['signalKind'], number]>((best, one) => (one[1] > best[1] ? one : best), [null, 0])[0];
  const kind = signalKind !== null && told.has(signalKind) ? signalKind : most;
  return kind === null ? null : { what, kind };
}

const NO_EMITTERS: readonly SceneEmitter[] = [];
/** What was found that sends and is not Wi-Fi, where it counts in the lens. */
export const emittersCounted = (
  design: Design,
  session: Pick<Session, 'lens' | 'band' | 'byClient' | 'source' | 'countEmitters'>,
  client: ClientType,
): readonly SceneEmitter[] =>
  session.countEmitters && lensOf(session.lens).disturbed ? sceneEmitters(design, bandsAsked(session, client)) : NO_EMITTERS;

/** What else is said of a map: of which channel or kind of signal it is, or how many emitters count. */
export const asideOf = (sweep: SweptAsked | null, emitters: number): string =>
  sweep !== null
    ? sweep.what === 'signal'
      ? SIGNAL_WORDS[sweep.kind].label
      : sweep.channel === null
        ? 'of whichever channel has most'
        : `channel ${sweep.channel}`
    : emitters === 0
      ? ''
      : `with ${emitters} ${emitters === 1 ? 'emitter' : 'emitters'} that ${emitters === 1 ? 'was' : 'were'} found`;
