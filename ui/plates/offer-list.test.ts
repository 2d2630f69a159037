import type { PlateOffer } from '../../api/plates';
import { offerKey, offerWords } from './offer-list';

const offer = (more: Partial<PlateOffer> = {}): PlateOffer => ({
  ...({ takeId: 't', frame: 10, kind: 'run', run: { start: 4, end: 54 } } as unknown as PlateOffer),
  seconds: 2,
  stops: 0.01,
  minutes: 0.5,
  grain: 1,
  occupied: false,
  ...more,
});

test('an offer in the same light, just rolled, needs few words', () => {
  expect(offerWords(offer())).toBe('2.0 s empty · same light');
});

test.each<[string, Partial<PlateOffer>, string]>([
  ['brighter', { stops: 0.3 }, '2.0 s empty · 0.30 stop brighter'],
  ['darker', { stops: -0.3 }, '2.0 s empty · 0.30 stop darker'],
  ['not compared', { stops: null }, '2.0 s empty · light not compared yet'],
  ['rolled later', { minutes: 12.4 }, '2.0 s empty · same light · 12 min apart'],
  ['grainier', { grain: 1.8 }, '2.0 s empty · same light · grain 1.8 times'],
  ['of less grain', { grain: 0.5 }, '2.0 s empty · same light · grain 0.5 times'],
  ['of grain not known', { grain: null }, '2.0 s empty · same light'],
  ['stitched', { kind: 'stitched' }, 'never empty: stitched · same light'],
  ['with something in it', { occupied: true }, 'something stands in it all through · 2.0 s empty · same light'],
])('one that is %s says so', (_, more, words) => {
  expect(offerWords(offer(more))).toBe(words);
});

test('two runs of one take are two offers, and its stitched one a third', () => {
  const keys = [
    { takeId: 't', run: { start: 4 } },
    { takeId: 't', run: { start: 90 } },
    { takeId: 't', run: null },
    { takeId: 'u', run: { start: 4 } },
  ].map(offerKey);
  expect(new Set(keys).size).toBe(4);
});
