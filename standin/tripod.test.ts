import { performerAt } from './performer';
import type { CameraSettings } from './settings';
import { tripodPath } from './tripod';

const settings = (more: Partial<CameraSettings>): CameraSettings => ({
  scene: 'kiosk',
  tripod: 'still',
  crossing: 'nobody',
  seconds: 4,
  fps: 25,
  width: 1280,
  grain: 2,
  seed: 3,
  ...more,
});
const KINDS: CameraSettings['tripod'][] = ['still', 'drift', 'knock', 'handheld', 'breathing'];

test.each(KINDS)(
  '%s starts at the reference, has a place for every frame, and is the same for the same seed',
  (tripod) => {
    const path = tripodPath(settings({ tripod }));
    expect(path).toHaveLength(100);
    expect(Math.hypot(path[0].dx, path[0].dy)).toBeLessThan(1e-9);
    expect(path[0].scale).toBeCloseTo(1);
    expect(tripodPath(settings({ tripod }))).toEqual(path);
    for (const p of path) for (const v of Object.values(p)) expect(Number.isFinite(v)).toBe(true);
  },
);

test.each(KINDS.filter((k) => k !== 'still'))('%s differs from seed to seed and grows with the picture', (tripod) => {
  const far = (s: CameraSettings) =>
    Math.max(...tripodPath(s).map((p) => Math.hypot(p.dx, p.dy) + Math.abs(p.scale - 1) * 600));
  expect(tripodPath(settings({ tripod, seed: 4 }))).not.toEqual(tripodPath(settings({ tripod })));
  if (tripod !== 'breathing')
    expect(far(settings({ tripod, width: 1920 })) / far(settings({ tripod }))).toBeGreaterThan(1.3);
});

test('still is still; a drift goes one way; a knock rings and settles off; breathing comes back', () => {
  expect(tripodPath(settings({})).every((p) => p.dx === 0 && p.dy === 0 && p.rotation === 0 && p.scale === 1)).toBe(
    true,
  );
  const drift = tripodPath(settings({ tripod: 'drift' }));
  for (let f = 1; f < drift.length; f++) expect(drift[f].dx).toBeGreaterThan(drift[f - 1].dx);
  const knock = tripodPath(settings({ tripod: 'knock' }));
  expect(knock[44]).toEqual({ dx: 0, dy: 0, rotation: 0, scale: 1 });
  expect(Math.hypot(knock[45].dx, knock[45].dy)).toBeGreaterThan(40);
  expect(Math.abs(knock[99].dx - knock[98].dx)).toBeLessThan(0.1);
  expect(knock[99].dx).toBeGreaterThan(10);
  const nudged = tripodPath(settings({ tripod: 'nudged' }));
  expect(Math.hypot(nudged[0].dx, nudged[0].dy)).toBeGreaterThan(4);
  expect(nudged.every((p) => p.dx === nudged[0].dx && p.dy === nudged[0].dy)).toBe(true);
  const breathing = tripodPath(settings({ tripod: 'breathing', seconds: 3.2 }));
  expect(Math.max(...breathing.map((p) => p.scale))).toBeGreaterThan(1.004);
  expect(Math.min(...breathing.map((p) => p.scale))).toBeLessThan(0.996);
});

test('who crosses is out at both ends and in between passes the middle; who stands stays near the mark', () => {
  const at = (crossing: CameraSettings['crossing'], share: number) =>
    performerAt(settings({ crossing }), share, { ground: 628, mark: 500, across: 1000, pillar: 654 });
  expect(at('nobody', 0.5)).toBeNull();
  expect(at('slips-behind', 0.3)!.gone).toBeUndefined();
  expect(at('slips-behind', 0.9)).toMatchObject({ gone: true });
  expect(at('slips-before', 0.9)).toMatchObject({ gone: false });
  // Across from the mark, facing it; whoever reaches over, or whose shadow crosses, does so in the middle.
  expect(Math.abs(at('stands-across', 0.5)!.x - 1000)).toBeLessThan(6);
  expect(at('stands-across', 0.5)).toMatchObject({ facing: -1, reach: 0, shade: 0 });
  expect(at('reaches-over', 0.55)).toMatchObject({ facing: -1, reach: 1 });
  expect(at('shadow-crosses', 0.55)).toMatchObject({ shade: 1, reach: 0 });
  for (const crossing of ['reaches-over', 'shadow-crosses'] as const)
    for (const share of [0.1, 0.9]) expect(at(crossing, share)).toMatchObject({ reach: 0, shade: 0 });
  expect([at('in-opening', 0.5), at('leaves-opening', 0.5)]).toEqual([null, null]);
  for (const crossing of ['left-to-right', 'right-to-left'] as const) {
    expect(at(crossing, 0)).toBeNull();
    expect(at(crossing, 0.99)).toBeNull();
    expect(at(crossing, 0.5)!.x).toBeCloseTo(640, 0);
  }
  expect(at('left-to-right', 0.3)!.x).toBeLessThan(at('left-to-right', 0.6)!.x);
  expect(at('right-to-left', 0.3)!.x).toBeGreaterThan(at('right-to-left', 0.6)!.x);
  for (let s = 0; s <= 1; s += 0.1) expect(Math.abs(at('stands', s)!.x - 500)).toBeLessThan(6);
});
