import { z } from 'zod';
import { AIR_LIMITS } from '@/contract/air';
import { LIMITS } from '@/core/design/limits';
import { BANDS } from '@/core/radio/band';
import { AIR_TABS, PACES, setAir, useAir, type AirState } from './airStore';

/** What of the air is remembered in this browser, and what of it is believed: where the receiver stood, and when. Not what it heard: that is had again. */
const rememberedSchema = z
  .object({
    tab: z.enum(AIR_TABS),
    band: z.enum(BANDS),
    clockMs: z
      .number()
      .min(0)
      .max(30 * 86_400_000),
    pace: z.literal([...PACES]),
    spot: z.object({ xM: z.number().finite(), yM: z.number().finite() }).nullable(),
    apId: z.string().max(64).nullable(),
    scan: z.object({
      bands: z.array(z.enum(BANDS)),
      only: z.array(z.number().int().min(1).max(233)).max(LIMITS.scannedChannels).default([]),
      dwellMs: z.number().min(AIR_LIMITS.dwellMs.min).max(AIR_LIMITS.dwellMs.max),
      intervalS: z
        .number()
        .min(0)
        .max(AIR_LIMITS.intervalMs.max / 1000),
    }),
    onlyOurs: z.enum(['everybody', 'ours', 'others']),
  })
  .partial();
const KEYS = Object.keys(rememberedSchema.shape) as ReadonlyArray<keyof z.infer<typeof rememberedSchema>>;
const keyOf = (projectId: string): string => `upper-room.air.${projectId}`;

/** The clock alone is written no more often than this, in simulated ms. */
const CLOCK_MS = 10_000;

/** Begins where this browser left a project's air, and remembers from now on; returns the way to stop. */
export function rememberAir(projectId: string): () => void {
  try {
    const parsed = rememberedSchema.safeParse(JSON.parse(localStorage.getItem(keyOf(projectId)) ?? '{}'));
    if (parsed.success) setAir(parsed.data as Partial<AirState>);
  } catch {
    // A browser that refuses its storage, or what nobody can read: it begins at the beginning.
  }
  let written = useAir.getState();
  return useAir.subscribe((state) => {
    if (KEYS.every((key) => (key === 'clockMs' ? Math.abs(state.clockMs - written.clockMs) < CLOCK_MS : state[key] === written[key]))) return;
    written = state;
    try {
      localStorage.setItem(keyOf(projectId), JSON.stringify(Object.fromEntries(KEYS.map((key) => [key, state[key]]))));
    } catch (error) {
      console.warn('The browser refuses its storage; the air’s settings are not remembered.', error);
    }
  });
}
