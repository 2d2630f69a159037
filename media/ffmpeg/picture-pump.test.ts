import { DECODE_LIMITS } from './limits';
import { PicturePump } from './picture-pump';

const WIDTH = 64,
  HEIGHT = 48,
  FRAMES = 50;
const SOURCE = [
  '-v',
  'error',
  '-nostdin',
  '-f',
  'lavfi',
  '-i',
  `color=black:s=${WIDTH}x${HEIGHT}:r=25:d=${FRAMES / 25},geq=lum='20+4*N'`,
];
const GREY = ['-pix_fmt', 'gray', '-f', 'rawvideo', 'pipe:1'];
const BYTES = WIDTH * HEIGHT;
const pause = (ms: number) =>
  new Promise((r) => {
    setTimeout(r, ms);
  });
const busy = (ms: number) => {
  for (const end = Date.now() + ms; Date.now() < end;);
};
/** Each frame is brighter than the one before. */
const rises = (levels: number[]) => levels.every((v, n) => n === 0 || v > levels[n - 1]);

test.each([
  ['at once', 0, 0],
  ['long after ffmpeg could have ended', 1500, 0],
  ['slowly, without a pause between', 0, 15],
])('every picture comes once and in order when it is read %s', async (_, before, between) => {
  const pump = new PicturePump([...SOURCE, ...GREY], 1, DECODE_LIMITS);
  await pause(before);
  const seen: number[] = [];
  for await (const [picture] of pump.pictures([BYTES])) {
    expect(picture).toHaveLength(BYTES);
    seen.push(picture[0]);
    if (between) busy(between);
  }
  expect(seen).toHaveLength(FRAMES);
  expect(rises(seen)).toBe(true);
  expect(pump.ending).toEqual({ errors: '', code: 0, written: FRAMES });
});

test('two outputs of different size keep step, however far one runs ahead', async () => {
  const graph = [
    '-filter_complex',
    '[0:v]split[a][b];[b]scale=16:12[c]',
    '-map',
    '[a]',
    ...GREY,
    '-map',
    '[c]',
    '-pix_fmt',
    'gray',
    '-f',
    'rawvideo',
    'pipe:3',
  ];
  let count = 0;
  for await (const [large, small] of new PicturePump([...SOURCE, ...graph], 2, DECODE_LIMITS).pictures([
    BYTES,
    16 * 12,
  ])) {
    expect(Math.abs(large[0] - small[0])).toBeLessThanOrEqual(1);
    if (count++ % 10 === 0) await pause(20);
  }
  expect(count).toBe(FRAMES);
});

test('what ffmpeg says of itself when it fails is at hand, and nothing comes', async () => {
  const pump = new PicturePump(['-v', 'error', '-i', 'file:/nowhere/at-all.mp4', ...GREY], 1, DECODE_LIMITS);
  for await (const picture of pump.pictures([BYTES])) expect(picture).toBeUndefined();
  expect(pump.ending.code).not.toBe(0);
  expect(pump.ending.errors).toMatch(/No such file/);
});

test('stopped unread, twice at once, or while it is read, it ends; what was aborted says so', async () => {
  const endless = ['-v', 'error', '-nostdin', '-f', 'lavfi', '-i', `testsrc2=s=${WIDTH}x${HEIGHT}:r=25`, ...GREY];
  const unread = new PicturePump(endless, 1, DECODE_LIMITS);
  await Promise.all([unread.stop(), unread.stop()]);
  let count = 0;
  for await (const picture of new PicturePump(endless, 1, DECODE_LIMITS).pictures([BYTES]))
    if (picture && ++count === 5) break;
  expect(count).toBe(5);
  const given = new AbortController();
  const reading = (async () => {
    for await (const picture of new PicturePump(endless, 1, DECODE_LIMITS).pictures([BYTES], given.signal))
      if (picture) given.abort(new Error('enough'));
  })();
  await expect(reading).rejects.toThrow('enough');
});
