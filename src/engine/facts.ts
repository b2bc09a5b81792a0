import type { ApFacts, FactPlace, Facts, HeardFacts, RadioFacts, SpectrumFacts, ZoneFacts } from '@/core/checks/facts';
import { segmentOf } from '@/core/building/wall';
import {
  domainOf,
  expectedClients,
  modelsOf,
  accessPointsAround,
  floorsOf,
  materialsOf,
  onFloor,
  projectOf,
  serviceLevelOf,
  type AccessPoint,
  type Design,
  type Floor,
  type Radio,
} from '@/core/design/design';
import { UNSAID } from '@/core/design/kinds/project';
import type { Requirements } from '@/core/fields/owed';
import type { PointM } from '@/core/geometry/point';
import { inRegion, ringsOf, type RegionM } from '@/core/geometry/polygon';
import { announcedBy } from '@/core/design/ssids';
import { keepsOut } from '@/core/design/service';
import { distanceToM, sidesOf } from '@/core/geometry/segment';
import { BANDS, perBand, type Band } from '@/core/radio/band';
import { radioModelOf, type ApModel } from '@/core/radio/catalogue';
import { occupied20 } from '@/core/radio/channel';
import { highestPowerDbm, lawProblem, lawfulChannels } from '@/core/radio/law';
import { ruleFor, type Domain } from '@/core/radio/regulation';
import { outsideNetworks } from '@/core/survey/outside';
import type { Sample } from '@/core/survey/sample';
import type { FieldCache } from './fieldCache';
import type { EnginePool } from './pool';
import type { Inspected, SceneRadio } from './protocol';
import { litRadios } from './litRadios';
import { floorScene, sceneOf } from './scene';

const OFTEN_METAL = 'metal';

const placeOf = ({ floorId, xM, yM }: AccessPoint): FactPlace => ({ floorId, xM, yM });

/** The facts that the checks look at, of a variant of the whole building: floor by floor and band by band, as its maps show them. @param samples what was measured */
export async function factsOf(
  design: Design,
  variantId: string,
  pool: Pick<EnginePool, 'call'>,
  fields: FieldCache,
  { signal, samples = [] }: Readonly<{ signal?: AbortSignal; samples?: readonly Sample[] }> = {},
): Promise<Facts> {
  const project = projectOf(design);
  const domain: Domain = project === undefined ? 'EU' : domainOf(project);
  const floors = floorsOf(design).filter(({ outline }) => outline.length > 2);
  const radios: RadioFacts[] = [];
  const heard: HeardFacts[] = [];
  const zones = new Map<string, ZoneFacts>();
  const all = floors.length === 0 ? [] : accessPointsAround(design, floors[0]!.id, variantId);
  for (const floor of floors) {
    const aps = accessPointsAround(design, floor.id, variantId);
    const scene = floorScene(design, floor);
    const spotOf = (cell: number): FactPlace | null =>
      cell < 0
        ? null
        : {
            floorId: floor.id,
            xM: scene.grid.originXM + (cell % scene.grid.cols) * scene.grid.cellM,
            yM: scene.grid.originYM + Math.floor(cell / scene.grid.cols) * scene.grid.cellM,
          };
    const owed = scene.zones.flatMap(({ zone, mask }) => {
      const level = serviceLevelOf(design, zone);
      return level === null ? [] : [{ zone, level, id: zone.id, mask }];
    });
    const people = scene.zones.flatMap(({ zone, mask }) => (zone.people === null ? [] : [{ mask, count: zone.people }]));
    for (const band of BANDS) {
      const lit = await litRadios(design, scene, aps, band, fields);
      if (lit.length === 0) continue;
      const asked = owed.map(({ id, mask, level }) => ({ id, mask, level: level as Requirements }));
      const found = await pool.call(
        'inspect',
        { scene: sceneOf(scene), mask: scene.mask, zones: asked, people, radios: lit.map(({ ap: _ap, ...radio }) => radio) },
        { priority: 'long', ...(signal && { signal }) },
      );
      radios.push(...radioFacts(design, domain, floor, band, aps, lit, found));
      heard.push({
        floorId: floor.id,
        floorName: floor.name,
        band,
        radios: lit.length,
        secondShare: found.heard.secondShare,
        meanHeard: found.heard.mean,
        most: spotOf(found.heard.mostAt) ?? { floorId: floor.id, xM: 0, yM: 0 },
      });
      for (const { zone, level } of owed) {
        const inspected = found.zones.find(({ zoneId }) => zoneId === zone.id)!;
        const facts = zones.get(zone.id) ?? { zoneId: zone.id, name: zone.name, levelName: level.name, owedShare: level.share, bands: [] };
        const { shares, asked: which, worstAt } = inspected;
        zones.set(zone.id, { ...facts, bands: [...facts.bands, { band, shares, asked: which, worst: spotOf(worstAt) }] });
      }
    }
  }
  const models = modelsOf(design);
  return {
    domain,
    site: project?.network ?? UNSAID,
    clients: expectedClients(design).map(({ name, bands, equipment }) => ({
      name,
      bands,
      txPowerDbm: equipment.txPowerDbm,
    })),
    lacking: Object.fromEntries(
      perBand(
        (band) =>
          [
            band,
            [
              ...new Set(
                all
                  .map(({ modelId }) => models(modelId))
                  .filter((model) => radioModelOf(model, band) === null)
                  .map(({ name }) => name),
              ),
            ],
          ] as const,
      ),
    ) as Record<Band, string[]>,
    radios,
    aps: floors.flatMap((floor) => all.filter(({ floorId }) => floorId === floor.id).map((ap) => apFacts(design, floor, ap, radios))),
    heard,
    zones: [...zones.values()],
    others: samples.length === 0 ? null : outsideNetworks(samples).map(({ rounds: _rounds, ...network }) => network),
    spectrum: perBand((band) => spectrumFacts(domain, band, [...new Set(all.map(({ modelId }) => models(modelId)))], radios)),
  };
}

/** The radios of the floor itself; those of other floors are heard there and told on their own. */
function radioFacts(
  design: Design,
  domain: Domain,
  floor: Floor,
  band: Band,
  aps: readonly AccessPoint[],
  lit: Awaited<ReturnType<typeof litRadios>>,
  found: Inspected,
): RadioFacts[] {
  const announced = (ap: AccessPoint): number | null => announcedBy(design, ap, band)?.length ?? null;
  const dfsOf = ({ channel }: SceneRadio): boolean => ruleFor(domain, channel)?.dfs ?? false;
  return lit.flatMap((one, r): RadioFacts[] => {
    const ap = aps.find(({ id }) => id === one.apId)!;
    if (ap.floorId !== floor.id) return [];
    const radio: Radio = ap.radios.find((candidate) => candidate.band === band)!;
    const { servedM2, people, sharers, who, overlap, touching } = found.radios[r]!;
    const model = modelsOf(design)(ap.modelId);
    return [
      {
        apId: ap.id,
        name: ap.name,
        modelId: ap.modelId,
        place: placeOf(ap),
        band,
        channel: one.channel,
        txPowerDbm: one.txPowerDbm,
        minPowerDbm: radioModelOf(model, band)!.minPowerDbm,
        highestPowerDbm: highestPowerDbm(domain, model, radio),
        problem: lawProblem(domain, model, radio),
        dfs: dfsOf(one),
        servedM2,
        people,
        sharers,
        who: who.map(({ radio: j, share }) => ({ name: lit[j]!.name, share, ssids: announced(lit[j]!.ap) })),
        ssids: announced(ap),
        overlap,
        touching: touching.map((j) => ({ apId: lit[j]!.apId, name: lit[j]!.name, txPowerDbm: lit[j]!.txPowerDbm, dfs: dfsOf(lit[j]!) })),
      },
    ];
  });
}

/** How far a spot is from an area, in m; 0 inside. */
const awayFrom = (area: RegionM, at: PointM): number =>
  inRegion(area, at.xM, at.yM) ? 0 : Math.min(...ringsOf(area).flatMap((ring) => sidesOf(ring).map((side) => distanceToM(side, at))));

function apFacts(design: Design, floor: Floor, ap: AccessPoint, radios: readonly RadioFacts[]): ApFacts {
  const materials = materialsOf(design);
  const model = modelsOf(design)(ap.modelId);
  let nearestWallM: number | null = null;
  let nearestMetal: ApFacts['nearestMetal'] = null;
  for (const wall of onFloor(design, 'walls', floor.id)) {
    const awayM = distanceToM(segmentOf(wall), ap);
    // What ends well below it is not beside it.
    if (wall.topM < ap.heightM - 0.5 || wall.baseM > ap.heightM + 0.5) continue;
    if (nearestWallM === null || awayM < nearestWallM) nearestWallM = awayM;
    const material = materials(wall.materialId);
    const metal = material.layers.some(({ substanceId }) => substanceId === OFTEN_METAL);
    if (metal && (nearestMetal === null || awayM < nearestMetal.awayM)) nearestMetal = { material: material.name, awayM };
  }
  let nearestElectronics: ApFacts['nearestElectronics'] = null;
  for (const zone of onFloor(design, 'zones', floor.id)) {
    if (zone.kind !== 'electronics') continue;
    const awayM = awayFrom(zone, ap);
    if (nearestElectronics === null || awayM < nearestElectronics.awayM) nearestElectronics = { name: zone.name, awayM };
  }
  const own = radios.filter(({ apId }) => apId === ap.id);
  const within = onFloor(design, 'zones', floor.id).filter((zone) => inRegion(zone, ap.xM, ap.yM));
  const clutter = within.find((zone) => zone.kind === 'clutter' && zone.clutter !== null && zone.clutter.topM > ap.heightM);
  return {
    apId: ap.id,
    name: ap.name,
    modelName: model.name,
    place: placeOf(ap),
    heightM: ap.heightM,
    outdoor: model.outdoor,
    wallMounted: model.mount !== 'ceiling',
    poeW: model.poeW,
    clientsPerRadio: model.clientsPerRadio,
    people: own.reduce((most, one) => Math.max(most, one.people), 0),
    radiosOn: own.length,
    nearestWallM,
    nearestMetal,
    nearestElectronics,
    keepOut: within.find((zone) => keepsOut(zone, 'access points'))?.name ?? null,
    clutter: clutter === undefined ? null : { name: clutter.name, topM: clutter.clutter!.topM },
  };
}

function spectrumFacts(domain: Domain, band: Band, models: readonly ApModel[], radios: readonly RadioFacts[]): SpectrumFacts {
  const own = radios.filter((one) => one.band === band);
  const allowed = new Map<number, boolean>();
  for (const model of models)
    if (radioModelOf(model, band) !== null) for (const { channel, dfs } of lawfulChannels(domain, model, band, 20)) allowed.set(channel.primary, dfs);
  const used = new Set(own.flatMap(({ channel }) => occupied20(channel)));
  const [servedM2, weighed] = own.reduce(
    ([area, sum], one) => (one.servedM2 > 0 ? [area + one.servedM2, sum + one.servedM2 * one.sharers] : [area, sum]),
    [0, 0],
  );
  return {
    band,
    allowed: [...allowed.keys()].sort((a, b) => a - b),
    dfs: [...allowed].filter(([, dfs]) => dfs).map(([primary]) => primary),
    used: [...used].sort((a, b) => a - b),
    radios: own.length,
    meanSharers: servedM2 === 0 ? 0 : weighed / servedM2,
  };
}
