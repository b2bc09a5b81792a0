import { modelOf } from '@/core/radio/catalogue';
import { museum } from '@demo/museum';
import { accessPointsOf, floorsOf, variantsOf } from '@/core/design/design';
import { bandIndex } from '@/core/radio/band';
import { HANDLERS } from './handlers';
import type { LensResult, Params, Result, SceneRadio } from './protocol';
import { floorScene, type FloorScene, type emittersOf } from './scene';

/** The museum as the engine's tests have it. */
export const design = museum();
export const floor = floorsOf(design)[0]!;
export const aps = accessPointsOf(design, floor.id, variantsOf(design).at(-1)!.id);

export const PALETTE = ['B9CFC9', 'E6D3A8', 'C3B4D0', 'D9E3C2', 'A9BBD4', 'E3BFB0', '9DB59A', 'F0E6D2', 'B7A48C', 'CFDDE6', 'D4A9B4', '8FA3A8'];

/** Runs a handler to its end. */
export function finish<P, R>(run: R | Generator<P, R>): { result: R; progress: Array<NonNullable<P>> } {
  if (typeof (run as Generator<P, R>).next !== 'function') return { result: run as R, progress: [] };
  const steps = run as Generator<P, R>;
  const progress: Array<NonNullable<P>> = [];
  let step = steps.next();
  for (; !step.done; step = steps.next()) if (step.value !== undefined && step.value !== null) progress.push(step.value);
  return { result: step.value, progress };
}

/** A lens call on the museum's floor: Signal of these radios, or whatever else is asked. */
export function lensCall(fields: Pick<Params<'lens'>, 'radios'> & Partial<Params<'lens'>>): Params<'lens'> {
  const scene = floorScene(design, floor);
  return {
    scene,
    mask: scene.mask,
    lens: 'signal',
    rank: 0,
    widthMhz: 80,
    direction: 'down',
    zones: [],
    bandRule: null,
    ignoreBelowDbm: -90,
    emitters: [],
    measured: null,
    movingApId: null,
    threshold: -67,
    onlyKind: null,
    palette: PALETTE,
    keptTints: {},
    ...fields,
  };
}

export const lensResult = (fields: Parameters<typeof lensCall>[0]): LensResult => finish(HANDLERS.lens(lensCall(fields))).result as LensResult;

/** Emitters as the lens call takes them, their fields computed by the call, or, where `fields` is asked for, here. */
export const sceneRadios = (emitters: ReturnType<typeof emittersOf>, fields: FloorScene | null = null): SceneRadio[] =>
  emitters.map(({ of, channel, txPowerDbm, pose }) => ({
    apId: of.id,
    name: of.name,
    model: modelOf(of.modelId),
    pose,
    channel,
    txPowerDbm,
    lossDb:
      fields === null
        ? null
        : (HANDLERS.lossField({ scene: fields, model: modelOf(of.modelId), pose, channels: [channel] }) as Result<'lossField'>).lossDb[
            bandIndex(channel.band)
          ]!,
  }));
