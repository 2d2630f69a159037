import fc from 'fast-check';
import type { Mark } from '../../plan/marks';
import type { Zone } from '../../tricks/zones';
import { judgeLightInside, judgeLightOnBeat, type LightInZone } from './judge-light';

const zone: Zone = [
  [0.5, 0.2],
  [0.9, 0.2],
  [0.9, 0.9],
  [0.5, 0.9],
];
const size = { width: 1000, height: 500 };
const at = (frame: number, cells: [number, number][], stops = 0.4) => ({ frame, stops, cells });
const INSIDE: [number, number][] = [[600, 200], [650, 200], [600, 250]]; // prettier-ignore
const about = (...steps: LightInZone['steps']): LightInZone => ({ steps, zone, size });
const mark = (frame: number): Mark => ({ id: 'm', frame, name: 'Light', kind: 'own', found: null });

test('light on its mark and in the zone holds; beside its mark it is said by how much', () => {
  expect(judgeLightOnBeat(about(at(45, INSIDE)), [mark(45)], 1)).toEqual({
    verdict: 'holds',
    text: 'light rises in the zone at frame 45, by 0.40 stop, on “Light”, and nowhere else',
    fix: null,
  });
  expect(judgeLightOnBeat(about(at(46, INSIDE)), [mark(45)], 1).text).toContain('1 frame beside “Light”');
  expect(judgeLightOnBeat(about(at(51, INSIDE)), [mark(20), mark(45)], 1)).toMatchObject({
    verdict: 'workable',
    text: 'light rises in the zone at frame 51, by 0.40 stop, 6 frames after “Light”',
    fix: 'Move the mark to frame 51, or retime the light to it in the edit.',
  });
  expect(judgeLightOnBeat(about(at(45, INSIDE)), [], 1).verdict).toBe('unjudged');
  // A lamp that goes out is no light that rises.
  expect(judgeLightOnBeat(about(at(45, INSIDE, -0.4)), [mark(45)], 1).verdict).toBe('unjudged');
});

test('light that falls outside the zone is said, with where and when', () => {
  const out = at(45, [...INSIDE, [100, 100], [150, 100]]);
  for (const said of [judgeLightOnBeat(about(out), [mark(45)], 1), judgeLightInside(about(out))])
    expect(said).toMatchObject({
      verdict: 'reshoot',
      text: 'at frame 45 it gets 0.40 stop brighter outside the zone too: 40 % of what changes lies there',
    });
});

test('in an opening light may step, or not at all', () => {
  expect(judgeLightInside(about())).toEqual({ verdict: 'holds', text: 'light steps nowhere', fix: null });
  expect(judgeLightInside(about(at(5, INSIDE), at(9, INSIDE, -0.4))).text).toBe(
    'light steps in the opening alone, 2 times',
  );
});

test('whatever lies in the zone is inside, whatever lies beyond is not', () => {
  fc.assert(
    fc.property(
      fc.array(fc.tuple(fc.integer({ min: 1, max: 999 }), fc.integer({ min: 1, max: 499 })), { minLength: 1 }),
      (cells) => {
        const inside = cells.filter(([x, y]) => x > 500 && x < 900 && y > 100 && y < 450).length;
        fc.pre(cells.every(([x, y]) => ![500, 900].includes(x) && ![100, 450].includes(y)));
        const { verdict } = judgeLightInside(about(at(3, cells)));
        expect(verdict).toBe(1 - inside / cells.length > 0.1 ? 'reshoot' : 'holds');
      },
    ),
  );
});
