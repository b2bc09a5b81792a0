import type { SignalKind } from '@/core/spectrum/signal';

/** What is said of a kind of signal: how it looks, what it does to Wi-Fi, where it is found, and what to do. */
export type SignalWords = Readonly<{ label: string; usualMhz: number; looks: string; does: string; found: string; remedy: string }>;

export const SIGNAL_WORDS: Readonly<Record<SignalKind, SignalWords>> = {
  oven: {
    label: 'Microwave oven',
    usualMhz: 2458,
    looks: 'Broad bursts in one half of each mains cycle, their frequency going up and back; minutes at a time, about meals.',
    does: 'Frames that meet a burst are lost and sent again; near by, the upper half of 2.4 GHz has half its airtime.',
    found: 'Kitchens, staff rooms, cafés.',
    remedy: 'Use 5 or 6 GHz within some 10 m, or a channel at the lower end of 2.4 GHz; an oven with a worn door seal is to be replaced.',
  },
  hopper: {
    label: 'Frequency hopper',
    usualMhz: 2441,
    looks: 'Short bursts of 1 MHz on ever other frequencies, all over 2.4 GHz: max hold fills the band while a sweep shows little.',
    does: 'Takes a little airtime of every channel; many of them near by together are felt.',
    found: 'Headsets, keyboards, hearing loops, older cordless phones.',
    remedy: 'No channel escapes it: move clients to 5 or 6 GHz, or the hoppers away from access points.',
  },
  carrier: {
    label: 'Narrow FM carrier',
    usualMhz: 2472,
    looks: 'A single thin line that is always there and hardly moves.',
    does: 'A radio whose channel holds it and that hears it loud waits for ever; a distant one costs a few subcarriers.',
    found: 'Wireless microphones and loudspeakers, baby monitors, a transmitter stuck on.',
    remedy: 'Take a channel whose 20 MHz do not hold the line, and find who owns it.',
  },
  'analogue-video': {
    label: 'Analogue video',
    usualMhz: 2468,
    looks: 'A hump some 9 MHz wide with shoulders from its sound, always there.',
    does: 'The channel under it is lost, and those beside it suffer.',
    found: 'Old cameras, door intercoms, video senders.',
    remedy: 'Replace it by a camera on a cable; until then take a channel 25 MHz away.',
  },
  'digital-video': {
    label: 'Digital video bridge',
    usualMhz: 5750,
    looks: 'A flat block with steep sides, always there while the picture runs, and no network’s beacon in it.',
    does: 'The channels under it have no airtime left.',
    found: 'Terraces, stages, building sites, camera links between buildings.',
    remedy: 'Set one of the two to another channel; agree it with its owner.',
  },
  phone: {
    label: 'Direct-sequence phone',
    usualMhz: 2450,
    looks: 'A rounded hump of 2 MHz in turns of 2.4 ms, 200 times a second, on one frequency as long as the call lasts.',
    does: 'About half the airtime of the channel that holds it, near by.',
    found: 'Cordless phones and intercoms of 2.4 GHz.',
    remedy: 'Replace it by one on another band; until then a channel that does not hold it.',
  },
  sensor: {
    label: 'Low-rate sensor network',
    usualMhz: 2425,
    looks: 'Single frames of up to 4 ms, 2 MHz wide, on one of 16 frequencies 5 MHz apart, without a rhythm.',
    does: 'Hardly anything to Wi-Fi; Wi-Fi does much to it.',
    found: 'Lighting, heating, meters, locks.',
    remedy: 'Agree on channels: theirs between or above the channels of Wi-Fi.',
  },
  advertising: {
    label: 'Bluetooth-like beacon',
    usualMhz: 2441,
    looks: 'Short bursts on 2402, 2426 and 2480 MHz, one after the other, some ten times a second.',
    does: 'Next to nothing: its three frequencies lie between the usual channels.',
    found: 'Audio guides, tags, tills, phones.',
    remedy: 'Nothing, unless there are hundreds.',
  },
  noise: {
    label: 'Wide noise',
    usualMhz: 2450,
    looks: 'The floor itself is lifted, over tens of MHz, without a shape.',
    does: 'SNR falls everywhere near it; close by every channel is taken.',
    found: 'Faulty power supplies and lamps, a jammer.',
    remedy: 'Find it by where it is loudest, and switch it off; a jammer is a matter for the authority.',
  },
  radar: {
    label: 'Radar',
    usualMhz: 5600,
    looks: 'Pulses of a few microseconds, a handful each time the antenna comes round, every few seconds.',
    does: 'Access points must leave the channel at once and stay away half an hour: clients are cut off.',
    found: 'Harbours, airfields, weather stations, up to tens of kilometres away.',
    remedy: 'Keep off the channels that its log names; a channel without radar detection for what may not fail.',
  },
};
export const NOT_KNOWN = 'Not known';
export const labelOf = (kind: SignalKind | 'not known'): string => (kind === 'not known' ? NOT_KNOWN : SIGNAL_WORDS[kind].label);
