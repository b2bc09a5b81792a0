import type { Option } from '@/core/air/advice';
import { editRadios } from '@/core/design/commands';
import { channelLabel } from '@/core/radio/channel';
import { useDocument } from '../../state/documentStore';
import type { Advice } from './useLoad';

/** Sets the access point's radio so, as one step. */
export function takeOption({ ap, radio }: Pick<Advice, 'ap' | 'radio'>, { channel }: Option): void {
  useDocument
    .getState()
    .run(`Take ${channelLabel(channel)} for ${ap.name}`, (design) =>
      editRadios(design, [ap.id], radio.band, { channel: channel.primary, widthMhz: channel.widthMhz }),
    );
}
