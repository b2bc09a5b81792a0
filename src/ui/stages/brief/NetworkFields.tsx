'use client';
import type { Project } from '@/core/design/design';
import { BANDS } from '@/core/radio/band';
import { basicRatesOf, type BasicRate } from '@/core/radio/beacon';
import { SelectField } from '../../inspector/fields';
import { setProject } from '../../inspector/ProjectFields';
import { SsidFields } from './SsidFields';

type Network = Project['network'];
const UNSAID = { value: 'unsaid', label: 'not said' } as const;
/** What a port gives by class, in W (IEEE 802.3-2022, 145): af, at, bt types 3 and 4. */
const PORTS_W = [15.4, 30, 60, 90] as const;

/** How the network is set where no radio says it: what the checks judge beacons, rates and ports by. */
export function NetworkFields({ project }: { project: Project }) {
  const { network } = project;
  const set = (title: string, fields: Partial<Network>) => setProject(title, { network: { ...network, ...fields } });
  return (
    <>
      <h3>The network as set</h3>
      <SsidFields ssids={network.ssids ?? []} />
      {BANDS.map((band) => (
        <SelectField
          key={band}
          label={`lowest basic rate, ${band} GHz`}
          value={network.basicMbps[band] === null ? UNSAID.value : String(network.basicMbps[band])}
          options={[UNSAID, ...basicRatesOf(band).map((rate) => ({ value: String(rate), label: `${rate} Mb/s` }))]}
          onCommit={(value) =>
            set(`Lowest basic rate, ${band} GHz`, {
              basicMbps: { ...network.basicMbps, [band]: value === UNSAID.value ? null : (Number(value) as BasicRate) },
            })
          }
        />
      ))}
      <SelectField
        label="band steering"
        value={network.bandSteering === null ? UNSAID.value : network.bandSteering ? 'on' : 'off'}
        options={[UNSAID, { value: 'on', label: 'on' }, { value: 'off', label: 'off' }]}
        onCommit={(value) => set('Band steering', { bandSteering: value === UNSAID.value ? null : value === 'on' })}
      />
      <SelectField
        label="power at a port"
        value={network.poeW === null ? UNSAID.value : String(network.poeW)}
        options={[UNSAID, ...PORTS_W.map((watts) => ({ value: String(watts), label: `${watts} W` }))]}
        onCommit={(value) => set('Power at a port', { poeW: value === UNSAID.value ? null : Number(value) })}
      />
    </>
  );
}
