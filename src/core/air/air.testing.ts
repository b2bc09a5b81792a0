import type { AirRadio, Broadcast } from './radio';

/** A network of tests, and a radio that sends it. */
export const broadcast = (fields: Partial<Broadcast> = {}): Broadcast => ({
  bssid: '02:55:00:00:00:01',
  ssid: 'hall',
  generation: 'Wi-Fi 5',
  streams: 2,
  basicMbps: [1, 2],
  security: 'WPA2',
  country: 'GB',
  tellsLoad: true,
  ...fields,
});
export const radio = (fields: Partial<AirRadio> = {}): AirRadio => ({
  apId: null,
  levelDbm: -60,
  channel: { band: '2.4', primary: 6, widthMhz: 20 },
  networks: [broadcast()],
  busy: 0.3,
  clients: 20,
  day: 'steady',
  hours: [],
  moves: [],
  seed: 17,
  ...fields,
});
