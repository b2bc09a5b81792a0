/** What a client receives with: height above the floor it stands on, antenna gain (body loss taken off), noise figure, spatial streams. */
export type Receiver = Readonly<{ heightM: number; gainDbi: number; noiseFigureDb: number; streams: number }>;

/** A common client: two streams, no gain left after hand and body, a noise figure of 7 dB. */
export const COMMON_CLIENT: Receiver = { heightM: 1, gainDbi: 0, noiseFigureDb: 7, streams: 2 };
