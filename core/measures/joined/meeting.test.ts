import { meetingOf } from './meeting';

test('what a measure says of where two takes meet', () => {
  expect(meetingOf('spot', { at_a: 40, at_b: 12 })).toEqual({ at: 41, slide: 28 });
  expect(meetingOf('spot', { at_a: null, at_b: 12 })).toEqual({});
  const meet = { slide_frames: 9, rate_pct: 160, layer: 'b_over_a' };
  expect(meetingOf('meet', meet)).toEqual({ slide: 9, rate: 160, front: 'second' });
  expect(meetingOf('cloth', { switch_frame: 33 })).toEqual({ at: 33 });
});

test('a plate shows in a zone once the cloth was pulled across it; below hands once they take hold of the edge', () => {
  expect(meetingOf('zone', { pulled: { start: 50, end: 60, touched_runs: [] } })).toEqual({ at: 61 });
  expect(meetingOf('zone', { pulled: null })).toEqual({ at: null });
  const beat = (frame: number, kind: string) => ({ frame, kind });
  expect(meetingOf('beats', { beats: [beat(12, 'sound'), beat(38, 'starts'), beat(93, 'starts')] })).toEqual({
    at: 38,
  });
  expect(meetingOf('beats', { beats: [] })).toEqual({ at: null });
});
