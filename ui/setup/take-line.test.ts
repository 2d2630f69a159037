import type { Take } from '../../api/takes';
import { takeLine } from './take-line';

const take = (more: Partial<Take>): Take => ({
  id: 't',
  part_id: 'p',
  number: 3,
  name: 'ferry.mp4',
  source: 'file',
  meter: null,
  circled: false,
  rolled_at: '2027-10-05T18:00:00Z',
  state: 'done',
  failure: null,
  frames_done: 0,
  frames_total: 0,
  doing: '',
  verdict: null,
  text: null,
  fix: null,
  line: null,
  pending: false,
  judged_for: null,
  frame_count: null,
  ...more,
});

test.each<[string, Partial<Take>, string]>([
  ['that waits', { state: 'waiting' }, 'waiting to be measured'],
  ['just begun, its length not known', { state: 'working' }, 'working'],
  ['under way', { state: 'working', frames_done: 40, frames_total: 150 }, 'measuring: frame 40 of 150'],
  ['that failed with a sentence', { state: 'failed', failure: 'It is cut short.' }, 'It is cut short.'],
  ['that failed without one', { state: 'failed' }, 'could not be measured'],
  [
    'that is judged',
    { line: 'locked; somebody in 12 to 60', text: 'The camera stayed put.' },
    'locked; somebody in 12 to 60',
  ],
  ['with a verdict only', { text: 'The camera stayed put.' }, 'The camera stayed put.'],
  ['of which nothing is to be said', {}, ''],
])('a take %s', (_, more, line) => {
  expect(takeLine(take(more))).toBe(line);
});
