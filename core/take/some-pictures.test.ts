import { SomePictures } from './some-pictures';

test.each([1, 10, 24, 25, 100, 1000])('of %i frames some are kept, spread over all of them', (count) => {
  const some = new SomePictures();
  const data = new Uint8Array(4),
    small = { luma: data, blue: data, red: data };
  for (let f = 0; f < count; f++) some.frame({ luma: { width: 2, height: 2, data: data.fill(f & 255) }, small });
  const frames = some.pictures.map((p) => p.frame);
  expect(frames.length).toBeLessThanOrEqual(24);
  expect(frames.length).toBeGreaterThanOrEqual(Math.min(count, 12));
  const step = frames[1] - frames[0] || 1;
  expect(frames).toEqual(frames.map((_, k) => k * step));
  expect(count - 1 - frames.at(-1)!).toBeLessThan(step);
  // Copies: what is given is used again.
  for (const p of some.pictures) expect([p.luma.data[0], p.small.red[3]]).toEqual([p.frame & 255, p.frame & 255]);
});
