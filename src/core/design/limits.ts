/** Limits of every value that an engineer can enter. The record kinds' schemas, and so the server, read them here; forms do too. */
export const LIMITS = {
  coordinateM: { min: -1000, max: 2000 },
  heightM: { min: 0, max: 50 },
  elevationM: { min: -100, max: 1000 },
  ceilingM: { min: 1, max: 50 },
  /** From a coat of metal, a hundred atoms thick, to a fortress. */
  layerM: { min: 1e-9, max: 3 },
  layers: 8,
  openingWidthM: { min: 0.1, max: 200 },
  /** Shorter walls are slips of the pointer. */
  wallLengthM: { min: 0.05 },
  txPowerDbm: { min: -10, max: 36 },
  antennaDbi: { min: -10, max: 30 },
  /** Of a cut, against its peak. */
  cutDb: { min: -60, max: 0 },
  cutPoints: 361,
  /** What hand, head or body take is a gain below 0. */
  clientDbi: { min: -15, max: 15 },
  noiseFigureDb: { min: 0, max: 20 },
  clientTypes: 100,
  streams: { min: 1, max: 8 },
  eirpDbm: { min: -20, max: 60 },
  /** How long a radio listens for radar before it sends, in s. */
  checkS: { min: 1, max: 3600 },
  domainRules: 60,
  headroomDb: { min: 0, max: 10 },
  powerSpreadDb: { min: 0, max: 30 },
  changePenalty: { min: 0, max: 5 },
  mostChanges: { min: 0, max: 5000 },
  ruleGroups: 12,
  groupMembers: 2000,
  /** Of a search. */
  starts: { min: 1, max: 8 },
  /** Of what people carry, and what each of these wants at one time. */
  devicesEach: { min: 0.1, max: 10 },
  mbpsEach: { min: 0.01, max: 1000 },
  airtimeShare: { min: 0.05, max: 1 },
  azimuthDeg: { min: 0, max: 360 },
  tiltDeg: { min: -90, max: 90 },
  exponent: { min: 1.5, max: 6 },
  cellM: { min: 0.1, max: 5 },
  planSideM: { min: 1, max: 1000 },
  /** As many as the widest band has. */
  forbiddenChannels: 59,
  ssids: 16,
  withheldSsids: 64,
  nameLength: 120,
  titleLength: 200,
  polygonPoints: 500,
  holes: 30,
  clutterDbPerM: { min: 0, max: 20 },
  clutterTopM: { min: 0.1, max: 50 },
  turnsPerLeg: 2000,
  legs: 500,
  scannedChannels: 60,
  /** Shorter than a beacon interval much is missed; longer than this nobody walks. */
  dwellMs: { min: 20, max: 5000 },
  photosPerMark: 12,
  /** Runs of a throughput test. */
  transferRuns: { min: 1, max: 20 },
  /** What a simulated site may be like: how much it differs from the drawing, and how often the receiver drops out there. */
  site: {
    exponentOffset: { min: -1, max: 2 },
    wallSigmaDb: { min: 0, max: 10 },
    shadowSigmaDb: { min: 0, max: 12 },
    correlationM: { min: 0.5, max: 50 },
    receiverOffsetDb: { min: -20, max: 20 },
    dropOutsPerHour: { min: 0, max: 240 },
  },
  siteFaults: 50,
  siteFaultOffDb: { min: -60, max: 60 },
  siteFaultOffM: { min: -20, max: 20 },
  neighbours: 200,
  interferers: 50,
  interferer: { eirpDbm: { min: -40, max: 90 }, everyS: { min: 1, max: 86_400 } },
  /** A drawing of more pixels than this cannot be held by every browser. */
  picturePx: { max: 144_000_000 },
  pictureSidePx: { max: 16_000 },
  pictureBytes: { max: 24 * 1024 * 1024 },
  /** From a drawing in millimetres to a town on one sheet. */
  walksInFile: 5000,
  /** Pages or layers of a drawing's file. */
  drawingParts: 20_000,
  poeW: { min: 3, max: 100 },
  mPerPx: { min: 1e-5, max: 100 },
  opacity: { min: 0.05, max: 1 },
  referencePx: { min: 2 },
  owedDbm: { min: -95, max: -30 },
  owedSnrDb: { min: 0, max: 60 },
  owedMbps: { min: 1, max: 5000 },
  owedSharers: { min: 0, max: 20 },
  owedShare: { min: 0.5, max: 1 },
  /** Of people in one zone. */
  people: { min: 0, max: 100_000 },
  textLength: 8000,
  changesPerStep: 20_000,
} as const;
