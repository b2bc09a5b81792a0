'use client';
import { BANDS, WIDTHS_MHZ, type Band, type WidthMhz } from '@/core/radio/band';
import { channelExists } from '@/core/radio/channel';
import { NumberField, SelectField } from '../inspector/fields';

type Draft = Readonly<{ band: Band; channel: number; widthMhz: WidthMhz }>;

/** A channel by band, number and width, and whether there is such a one. */
export function ChannelFields({ draft, onSet }: { draft: Draft; onSet: (fields: Partial<Draft>) => void }) {
  const exists = channelExists({ band: draft.band, primary: draft.channel, widthMhz: draft.widthMhz });
  return (
    <>
      <SelectField
        label="band"
        value={draft.band}
        options={BANDS.map((value) => ({ value, label: `${value} GHz` }))}
        onCommit={(band: Band) => onSet({ band })}
      />
      <NumberField
        label="channel"
        unit=""
        value={draft.channel}
        min={1}
        max={233}
        digits={0}
        onCommit={(value) => onSet({ channel: Math.round(value) })}
      />
      <SelectField
        label="width"
        value={draft.widthMhz}
        options={WIDTHS_MHZ.map((value) => ({ value, label: `${value} MHz` }))}
        onCommit={(widthMhz: WidthMhz) => onSet({ widthMhz })}
      />
      {!exists && <p role="alert">{`There is no channel ${draft.channel} of ${draft.widthMhz} MHz at ${draft.band} GHz.`}</p>}
    </>
  );
}
