'use client';
import Button from '@mui/material/Button';
import { v7 as uuid } from 'uuid';
import {
  MAX_WALL_LOSS_DB,
  OPEN_ID,
  WALL_PATTERNS,
  lossDbOf,
  permittivityAt,
  smoothedLossDb,
  thicknessM,
  type Material,
} from '@/core/building/material';
import { SUBSTANCES } from '@/core/building/substance';
import { remove } from '@/core/design/commands';
import type { Project } from '@/core/design/design';
import { LIMITS } from '@/core/design/limits';
import { addMaterial, editMaterial, usesOf } from '@/core/design/materialCommands';
import { BANDS, centreOfBandMhz, type Band } from '@/core/radio/band';
import { useDocument } from '../state/documentStore';
import { bandLabel } from '../state/selectors';
import { useSession } from '../state/sessionStore';
import { NumberField, SelectField, TextField, Value } from './fields';

const PATTERN_LABEL = {
  heavy: 'one heavy line',
  double: 'double line',
  light: 'light line',
  dashes: 'long dashes',
  dots: 'dots',
  ticks: 'line with ticks',
  leaf: 'thin line',
} as const;

/** Half a wave, or a whole number of them, in a sheet: within this share of a half wave its faces' reflections cancel. */
const NEAR_HALF_WAVE = 0.15;

/** Why a material may lose less at a higher frequency: a sheet in which half a wave fits reflects least. Null where that is not so. */
function ripple({ layers }: Material): string | null {
  const [layer] = layers;
  if (layers.length !== 1 || layer === undefined) return null;
  const substance = SUBSTANCES.find(({ id }) => id === layer.substanceId)!;
  const halves = (band: Band): number =>
    (2 * layer.thicknessM * Math.sqrt(permittivityAt(substance, centreOfBandMhz(band))[0]) * centreOfBandMhz(band) * 1e6) / 299_792_458;
  const best = BANDS.filter((band) => halves(band) > 0.5 && Math.abs(halves(band) - Math.round(halves(band))) < NEAR_HALF_WAVE);
  const [lowest] = BANDS;
  const less = best.filter((band) => smoothedLossDb(layers, centreOfBandMhz(band)) < smoothedLossDb(layers, centreOfBandMhz(lowest!)));
  if (less.length === 0) return null;
  return `Less at ${less.join(' and ')} GHz than at ${lowest}: about ${Math.round(halves(less[0]!)) === 1 ? 'half a wave fits' : `${Math.round(halves(less[0]!))} half waves fit`} into the sheet there, and what its two faces reflect cancels.`;
}

/** A material: its layers, what they lose, and what was measured instead. The catalogue's can be looked at and copied. */
export function MaterialForm({ material, project }: { material: Material; project: Project }) {
  const { run } = useDocument.getState();
  const design = useDocument((s) => s.design);
  const own = Object.hasOwn(design.materials, material.id);
  const { units } = project;
  const set = (title: string, fields: Parameters<typeof editMaterial>[2]) =>
    run(`${title} of ${material.name}`, (d) => editMaterial(d, material.id, fields));
  const select = (id: string | null) => useSession.getState().set({ selection: id === null ? null : { table: 'materials', ids: [id] } });
  const uses = usesOf(design, material.id);
  const layer = (i: number, fields: Partial<Material['layers'][number]>) =>
    set('Layers', { layers: material.layers.map((one, k) => (k === i ? { ...one, ...fields } : one)) });
  const measured = (band: Band, lossDb: number | null) => {
    const { [band]: _was, ...others } = material.measuredDb;
    set('Measured loss', { measuredDb: lossDb === null ? others : { ...others, [band]: lossDb } });
  };
  const why = ripple(material);
  return (
    <div>
      <h2>{material.name}</h2>
      <p>{`${own ? 'A material of this project' : 'Of the catalogue'}; ${uses === 0 ? 'nothing is made of it' : `${uses} walls, openings and slabs are made of it`}. ${(thicknessM(material) * 1000).toFixed(1)} mm.`}</p>
      {own && (
        <>
          <TextField label="name" value={material.name} maxLength={LIMITS.nameLength} onCommit={(name) => set('Name', { name })} />
          <SelectField
            label="drawn as"
            value={material.pattern}
            options={WALL_PATTERNS.map((value) => ({ value, label: PATTERN_LABEL[value] }))}
            onCommit={(pattern) => set('Pattern', { pattern })}
          />
        </>
      )}
      <h3>Loss of one crossing</h3>
      {BANDS.map((band) => (
        <Value key={band} label={bandLabel(band)}>
          {`${lossDbOf(material, band).toFixed(1)} dB${material.measuredDb[band] === undefined ? '' : ' measured'}`}
        </Value>
      ))}
      {material.layers.length > 0 && <Curve material={material} />}
      {why !== null && <p>{why}</p>}
      {own ? (
        <>
          <h3>Measured instead</h3>
          {BANDS.map((band) => (
            <div key={band}>
              <NumberField
                label={`${band} GHz`}
                value={material.measuredDb[band] ?? null}
                unit="dB"
                min={0}
                max={MAX_WALL_LOSS_DB}
                digits={1}
                onCommit={(lossDb) => measured(band, lossDb)}
              />
              {material.measuredDb[band] !== undefined && (
                <div className="row">
                  <Button size="small" color="secondary" onClick={() => measured(band, null)}>
                    {`Computed again at ${band} GHz`}
                  </Button>
                </div>
              )}
            </div>
          ))}
          <h3>Layers, from one face to the other</h3>
          {material.layers.map(({ substanceId, thicknessM: thick }, i) => (
            <div key={i}>
              <SelectField
                label={`layer ${i + 1}`}
                value={substanceId}
                options={SUBSTANCES.map(({ id, name }) => ({ value: id, label: name }))}
                onCommit={(value) => layer(i, { substanceId: value })}
              />
              <Thickness valueM={thick} units={units} label={`thickness ${i + 1}`} onCommit={(value) => layer(i, { thicknessM: value })} />
              {material.layers.length > 1 && (
                <div className="row">
                  <Button size="small" color="secondary" onClick={() => set('Layers', { layers: material.layers.filter((_, k) => k !== i) })}>
                    {`Take layer ${i + 1} away`}
                  </Button>
                </div>
              )}
            </div>
          ))}
          <div className="row">
            <Button
              size="small"
              variant="outlined"
              color="secondary"
              disabled={material.layers.length >= LIMITS.layers}
              onClick={() => set('Layers', { layers: [...material.layers, { substanceId: 'air', thicknessM: 0.05 }] })}
            >
              Add a layer
            </Button>
            <Button
              size="small"
              variant="outlined"
              color="secondary"
              onClick={() => {
                if (run(`Delete ${material.name}`, (d) => remove(d, 'materials', [material.id]))) select(null);
              }}
            >
              {uses === 0 ? 'Delete' : 'Delete, its walls become plasterboard'}
            </Button>
          </div>
        </>
      ) : (
        material.id !== OPEN_ID && (
          <ul className="papers">
            {material.layers.map(({ substanceId, thicknessM: thick }, i) => (
              <li
                key={i}
              >{`${SUBSTANCES.find(({ id }) => id === substanceId)?.name}, ${thick < 1e-6 ? `${(thick * 1e9).toFixed(0)} nm` : `${(thick * 1000).toFixed(1)} mm`}`}</li>
            ))}
          </ul>
        )
      )}
      {material.id !== OPEN_ID && (
        <div className="row">
          <Button
            variant="contained"
            onClick={() => {
              const id = uuid();
              if (run(`New material like ${material.name}`, (d) => addMaterial(d, id, material.id))) select(id);
            }}
          >
            Make an own one like it
          </Button>
        </div>
      )}
    </div>
  );
}

/** Thicknesses are said in millimetres, or in inches. */
function Thickness({
  label,
  valueM,
  units,
  onCommit,
}: {
  label: string;
  valueM: number;
  units: Project['units'];
  onCommit: (valueM: number) => void;
}) {
  const perUnit = units === 'us' ? 0.0254 : 0.001;
  // A coat of metal is some nanometres thick.
  const digits = valueM < 1e-5 ? 7 : 3;
  return (
    <NumberField
      label={label}
      value={Number((valueM / perUnit).toFixed(digits))}
      unit={units === 'us' ? 'in' : 'mm'}
      min={LIMITS.layerM.min / perUnit}
      max={LIMITS.layerM.max / perUnit}
      digits={digits}
      onCommit={(value) => onCommit(value * perUnit)}
    />
  );
}

const FROM_MHZ = 1000;
const TO_MHZ = 7200;
const WIDE_PX = 210;
const HIGH_PX = 64;

/** Computed loss over frequency, with the bands' centres; a measured band is a cross beside the curve. */
function Curve({ material }: { material: Material }) {
  const spots = Array.from({ length: 63 }, (_, i) => FROM_MHZ + ((TO_MHZ - FROM_MHZ) * i) / 62).map((freqMhz) => ({
    freqMhz,
    lossDb: smoothedLossDb(material.layers, freqMhz),
  }));
  const most = Math.max(1, ...spots.map(({ lossDb }) => lossDb), ...Object.values(material.measuredDb));
  const x = (freqMhz: number) => 24 + ((freqMhz - FROM_MHZ) / (TO_MHZ - FROM_MHZ)) * (WIDE_PX - 30);
  const y = (lossDb: number) => HIGH_PX - 14 - (lossDb / most) * (HIGH_PX - 22);
  return (
    <svg
      viewBox={`0 0 ${WIDE_PX} ${HIGH_PX}`}
      width="100%"
      role="img"
      aria-label={`Loss over frequency, up to ${most.toFixed(1)} dB between 1 and 7.2 GHz`}
    >
      <path d={`M24 ${y(0)}H${WIDE_PX - 6}M24 ${y(0)}V${y(most)}`} stroke="var(--ink2)" fill="none" />
      <path
        d={spots.map(({ freqMhz, lossDb }, i) => `${i === 0 ? 'M' : 'L'}${x(freqMhz).toFixed(1)} ${y(lossDb).toFixed(1)}`).join('')}
        stroke="var(--ink)"
        strokeWidth={1.5}
        fill="none"
      />
      {BANDS.map((band) => {
        const at = x(centreOfBandMhz(band));
        const lossDb = material.measuredDb[band];
        return (
          <g key={band}>
            <path d={`M${at} ${y(0)}v3`} stroke="var(--ink2)" />
            <text x={at} y={HIGH_PX - 2} textAnchor="middle" fontSize={9.5} fill="var(--ink2)" className="mono">
              {band}
            </text>
            {lossDb !== undefined && <path d={`M${at - 4} ${y(lossDb) - 4}l8 8m0 -8l-8 8`} stroke="var(--hand)" strokeWidth={1.5} />}
          </g>
        );
      })}
      <text x={20} y={y(most) + 4} textAnchor="end" fontSize={9.5} fill="var(--ink2)" className="mono">
        {most.toFixed(0)}
      </text>
      <text x={20} y={y(0)} textAnchor="end" fontSize={9.5} fill="var(--ink2)" className="mono">
        dB
      </text>
    </svg>
  );
}
