import { openTake } from '../media/feeds/measure-take';
import { judgeCloth } from '../core/measures/cloth/judge';
import { judgeLightInside } from '../core/measures/beats/judge-light';
import { judgeMeet } from '../core/measures/meet/judge';
import { findBeats } from '../core/take/beats';
import { findCloth } from '../core/take/cloth';
import { findFigure } from '../core/take/figure';
import { findMeet } from '../core/take/meet';
import { findSpot } from '../core/take/spot';
import type { CameraSettings } from './settings';
import { fixtureClip } from './testing/fixtures';
import { few } from '../core/testing/few';

const rolled = new Map<string, ReturnType<typeof rollNow>>();
/** A take, rolled and measured once for all that ask for it. */
function roll(more: Partial<CameraSettings>) {
  const key = JSON.stringify(more);
  if (!rolled.has(key)) rolled.set(key, rollNow(more));
  return rolled.get(key)!;
}
async function rollNow(more: Partial<CameraSettings>) {
  const usual = {
    scene: 'kiosk',
    tripod: 'still',
    crossing: 'nobody',
    seconds: 4,
    fps: 25,
    width: 640,
    grain: 2,
    seed: 1,
  };
  const { path, truth } = await fixtureClip({ ...usual, ...more } as CameraSettings);
  return { truth, ...(await openTake(path, { name: 'take', fine: true })) };
}
const plateOf = (scene: CameraSettings['scene']) => roll({ scene, seconds: 1, seed: 90 });

// Through an ordinary H.264 file with grain: on the frame or one beside it, and nothing else that is as clear.
test.each<[string, Partial<CameraSettings>]>(
  few(3, [
    ['taps', { act: 'taps', clap: true, seconds: 3, seed: 12 }],
    ['a leap and its landing', { act: 'leaps', clap: true, seed: 5 }],
    ['hands that rise and rest', { act: 'mimes', seconds: 6, seed: 5 }],
    ['clothes that fall and land', { act: 'clothes-drop', clap: true, seed: 5 }],
    ['a lamp', { act: 'lights-lamp', clap: true, seed: 3 }],
    ['a run that ends on the mark', { act: 'runs-in', seed: 4 }],
    ['clothes that land and crumple', { act: 'clothes-drop', clap: true, seed: 11 }],
  ]),
)('beats of %s are found to the frame', async (_, settings) => {
  const take = await roll(settings);
  const { beats } = await findBeats(take);
  const { beats: truth } = take.truth;
  expect(truth.length).toBeGreaterThan(0);
  for (const t of truth) {
    const near = beats.filter((b) => b.kind === t.kind && Math.abs(b.frame - t.frame) <= 1);
    expect([t.kind, t.frame, near.length]).toEqual([t.kind, t.frame, 1]);
  }
  const claps = truth.filter((t) => settings.clap && (t.kind === 'strikes' || t.kind === 'light'));
  const heard = beats.filter((b) => b.kind === 'sound');
  expect(heard).toHaveLength(claps.length);
  heard.forEach((b, k) => expect(Math.abs(b.frame - claps[k].frame)).toBeLessThanOrEqual(1));
});

describe('a place that was left, and what hangs there', () => {
  test.each<[string, Partial<CameraSettings>, number, number]>(
    few(1, [
      ['a hand’s breadth off', { act_fault: 'elsewhere' }, 46, 17.5],
      ['on the spot', {}, 0, 0],
    ]),
  )('%s: told to 1 %% of the width, though both stand there from the first frame', async (_, more, dx, dy) => {
    const plate = await plateOf('kiosk');
    const jump = await roll({ act: 'jumps', seconds: 3, seed: 7 });
    const clothes = await roll({ act: 'clothes-drop', seconds: 3, seed: 7, ...more });
    const found = await findSpot(jump, clothes, plate, { at_a: null, at_b: null });
    expect([found.at_a, found.at_b]).toEqual([74, 0]);
    expect(Math.abs(found.dx_px! - dx)).toBeLessThan(6.4);
    expect(Math.abs(found.dy_px! - dy)).toBeLessThan(6.4);
    expect(Math.abs(Math.log2(found.size_ratio!))).toBeLessThan(0.2);
  });
});

describe('a lantern on its thread', () => {
  test.each<[string, Partial<CameraSettings>, number, number]>(
    few(1, [
      ['swings', { act_fault: 'swings' }, 74, 13.75],
      // 6 of 1280 pixels across and 4 down; 150 across by the swing.
      ['hangs still', {}, 3, 0],
    ]),
  )('%s: how far it drifts is told to a twentieth, its turn to a degree', async (_, more, px, turn) => {
    const plate = await plateOf('kiosk');
    const take = await roll({ act: 'hangs', seconds: 2, seed: 21, ...more });
    const { drift, run, lifted_runs: lifted } = await findFigure(take, plate);
    expect([run, lifted]).toEqual([{ start: 0, end: 49 }, []]);
    expect(Math.abs(drift!.px - px)).toBeLessThan(Math.max(1.2, 0.05 * px));
    expect(Math.abs(drift!.turn_deg! - turn)).toBeLessThan(1.6);
  });
});

test('somebody who leaps is off the ground from take-off to landing, to two frames', async () => {
  const plate = await plateOf('kiosk');
  const take = await roll({ act: 'leaps', clap: true, seed: 5 });
  const { lifted_runs: lifted, outline } = await findFigure(take, plate);
  const [off, lands] = take.truth.beats;
  expect(lifted).toHaveLength(1);
  // Three pixels of the grid over the ground at first.
  expect(Math.abs(lifted[0].start - off.frame)).toBeLessThanOrEqual(2);
  expect(Math.abs(lifted[0].end - lands.frame)).toBeLessThanOrEqual(2);
  expect(outline.length).toBeGreaterThan(10);
});

test.each<[string, Partial<CameraSettings>, string]>(
  few(1, [
    ['over all of the place', { act_fault: 'spills' }, 'reshoot'],
    ['beside the lantern alone', {}, 'holds'],
  ]),
)('a lamp that shines %s', async (_, more, verdict) => {
  const take = await roll({ act: 'lights-lamp', seed: 23, ...more });
  const { light_steps: steps } = await findBeats(take);
  const corners = [[0.5, 0.22], [0.88, 0.22], [0.88, 0.94], [0.5, 0.94]] as [number, number][]; // prettier-ignore
  const said = judgeLightInside({ steps, zone: corners, size: take.analysis.probe });
  expect([said.verdict, steps[0].frame]).toEqual([verdict, take.truth.beats[0].frame]);
});

describe('a meeting', () => {
  test.each<[string, Partial<CameraSettings>, boolean]>(
    few(1, [
      ['twisted against what comes', {}, true],
      ['carried off with it at once', { act_fault: 'wrong-way' }, false],
    ]),
  )('%s', async (_, more, opposed) => {
    const plate = await plateOf('pillar');
    const reacts = await roll({ scene: 'pillar', act: 'reacts', seconds: 5, seed: 8, ...more });
    const van = await roll({ scene: 'pillar', act: 'drives-by', seconds: 5, seed: 9 });
    const found = await findMeet(reacts, van, plate);
    const [hit] = reacts.truth.beats;
    // Who is carried off begins slowly: soft ones are right to two frames, and an eased start to five.
    expect(Math.abs(found.a_frame! - (hit.frame - 1))).toBeLessThanOrEqual(opposed ? 2 : 6);
    expect(found.opposed).toBe(opposed);
    // 620 of 1280 pixels a second.
    expect(Math.abs(found.b_speed_widths_per_s! - 0.484)).toBeLessThan(0.02);
    expect(found.strobes).toBe(false);
    expect(judgeMeet(found).verdict).toBe(opposed ? 'holds' : 'reshoot');
  });
});

describe('a cloth', () => {
  test.each<[CameraSettings['act_fault'], string, RegExp]>(
    few(1, [
      ['none', 'holds', /hides them whole in frames (39|4\d) to 6\d/],
      ['late', 'reshoot', /shows beside the cloth/],
      ['on-feet', 'workable', /where the performer’s feet were/],
      ['out-of-top', 'workable', /leaves the picture at the top/],
    ]),
  )('%s', async (act_fault, verdict, says) => {
    const plate = await plateOf('bench');
    const take = await roll({ scene: 'bench', act: 'throws-cloth', act_fault, seconds: 5, seed: 5 });
    const found = await findCloth(take, plate);
    const said = judgeCloth(found);
    expect([said.verdict, said.reasons.map((r) => r.text).join(' ')]).toEqual([verdict, expect.stringMatching(says)]);
    const lands = take.truth.beats.find((b) => b.kind === 'strikes')!;
    expect(Math.abs(found.lands_frame! - lands.frame)).toBeLessThanOrEqual(2);
  });
});

test('a take with claps is a whole file of picture and sound', async () => {
  const { source, truth } = await roll({ act: 'taps', clap: true, seconds: 3, seed: 12 });
  const recording = await source.read({});
  let frames = 0;
  for await (const { luma } of recording.pictures()) frames += Math.sign(luma.data.length);
  await recording.close();
  expect([frames, truth.present.every(Boolean)]).toEqual([75, true]);
});
