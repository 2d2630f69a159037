import { readdirSync } from 'node:fs';
import { tmpdir } from 'node:os';
import fc from 'fast-check';
import { emptySighting, type Sighting } from '../../core/measures/lock/consensus';
import { Sightings } from '../../core/measures/lock/sightings';
import { SpillStore } from './spill-store';

const named = () => readdirSync(tmpdir()).filter((n) => n.startsWith('umbrastat-frames-'));

test('what is kept is read again byte for byte, in memory or in the file, of whatever lengths', () => {
  fc.assert(
    fc.property(
      fc.array(fc.uint8Array({ minLength: 1, maxLength: 400 }), { minLength: 1, maxLength: 40 }),
      fc.integer({ min: 0, max: 4000 }),
      (all, most) => {
        const store = new SpillStore(most);
        all.forEach((bytes, k) => store.write(k, bytes));
        for (const [k, bytes] of [...all.entries()].reverse()) {
          const again = new Uint8Array(bytes.length);
          store.read(k, again);
          expect(again).toEqual(bytes);
        }
        store.close();
      },
    ),
    { numRuns: 60 },
  );
});

test('the file has no name, so that nothing of it is left over however the process ends', () => {
  const before = named();
  const store = new SpillStore(10);
  for (let k = 0; k < 50; k++) store.write(k, new Uint8Array(100).fill(k));
  expect(named()).toEqual(before);
  const again = new Uint8Array(100);
  store.read(49, again);
  expect(again.every((v) => v === 49)).toBe(true);
  store.close();
});

test('sightings come back as they were, from anchors of any number of patches', () => {
  const store = new SpillStore(500);
  const shelf = new Sightings(store);
  const plain = (s: Sighting) =>
    Object.fromEntries(Object.entries(s).map(([key, own]) => [key, Array.from(own as Float32Array)]));
  const all = [3, 17, 1, 40].map((patches, n) => {
    const s = emptySighting(patches);
    for (let i = 0; i < patches; i++) {
      s.dx[i] = i + 0.25 * n;
      s.dy[i] = -i;
      s.found[i] = i % 2;
      s.looked[i] = 1;
      if (i % 2) s.residual[i] = 3 * i;
    }
    return { s, kept: shelf.keep(s) };
  });
  // What is kept is a copy.
  const asKept = all.map(({ s }) => plain(s));
  for (const { s } of all) s.dx.fill(99);
  all.forEach(({ kept }, k) => expect(plain(kept.read())).toEqual(asKept[k]));
  store.close();
});
