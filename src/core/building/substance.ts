/**
 * A substance by its electrical properties: relative permittivity eta' = a f^b, conductivity sigma = c f^d S/m, f in GHz. Source: ITU-R P.2040-3,
 * Table 3, stated there over `ghz`; below it the same law is taken.
 */
export type Substance = Readonly<{ id: string; name: string; a: number; b: number; c: number; d: number; ghz: readonly [from: number, to: number] }>;

export const SUBSTANCES: readonly Substance[] = [
  { id: 'air', name: 'Air', a: 1, b: 0, c: 0, d: 0, ghz: [0.001, 100] },
  { id: 'concrete', name: 'Concrete', a: 5.24, b: 0, c: 0.0462, d: 0.7822, ghz: [1, 100] },
  { id: 'brick', name: 'Brick', a: 3.91, b: 0, c: 0.0238, d: 0.16, ghz: [1, 40] },
  { id: 'plasterboard', name: 'Plasterboard', a: 2.73, b: 0, c: 0.0085, d: 0.9395, ghz: [1, 100] },
  { id: 'wood', name: 'Wood', a: 1.99, b: 0, c: 0.0047, d: 1.0718, ghz: [0.001, 100] },
  { id: 'glass', name: 'Glass', a: 6.31, b: 0, c: 0.0036, d: 1.3394, ghz: [0.1, 100] },
  { id: 'ceiling-board', name: 'Ceiling board', a: 1.48, b: 0, c: 0.0011, d: 1.075, ghz: [1, 100] },
  { id: 'chipboard', name: 'Chipboard', a: 2.58, b: 0, c: 0.0217, d: 0.78, ghz: [1, 100] },
  { id: 'plywood', name: 'Plywood', a: 2.71, b: 0, c: 0.33, d: 0, ghz: [1, 40] },
  { id: 'marble', name: 'Marble', a: 7.074, b: 0, c: 0.0055, d: 0.9262, ghz: [1, 60] },
  { id: 'floorboard', name: 'Floorboard', a: 3.66, b: 0, c: 0.0044, d: 1.3515, ghz: [50, 100] },
  // Our own: the inductive sheet that a square mesh of 10 mm, of wire 1 mm thick, is to waves much longer than its openings, reactance
  // (p / lambda) ln(p / pi d) of that of space (Marcuvitz, "Waveguide Handbook", 5.19, thin wires), written as the permittivity that a layer of
  // 0.1 mm would have. One mesh is one such layer.
  { id: 'mesh', name: 'Metal mesh (a mesh: 0.1 mm)', a: -12353, b: -2, c: 0, d: 0, ghz: [1, 8] },
  // Our own estimate: bodies side by side with air between, 6 dB through a row at 1.7 GHz and more (ITU-R P.1238, 7: a person in the way costs 6 to 8 dB).
  { id: 'people', name: 'People, side by side', a: 1, b: 0, c: 0.01, d: 0.23, ghz: [1, 8] },
  { id: 'metal', name: 'Metal', a: 1, b: 0, c: 1e7, d: 0, ghz: [1, 100] },
];
