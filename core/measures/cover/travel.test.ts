import { shareOf } from '../../base/image/mask';
import { travelWay } from './travel';

const W = 320,
  H = 180;
const apart = (a: number, b: number) => Math.abs(((a - b + 540) % 360) - 180);

/** An object that travels by `angle` with an edge bent by `bend` pixels, more on one side than on the other. */
function masks(angle: number, bend: number, tilt = 0): Uint8Array[] {
  const [dx, dy] = [Math.cos((angle * Math.PI) / 180), Math.sin((angle * Math.PI) / 180)];
  const half = (Math.abs(W * dy) + Math.abs(H * dx)) / 2,
    length = Math.abs(W * dx) + Math.abs(H * dy);
  return Array.from({ length: 70 }, (_, f) => {
    const out = new Uint8Array(W * H);
    for (let y = 0, i = 0; y < H; y++) {
      for (let x = 0; x < W; x++, i++) {
        const along = (x - W / 2) * dx + (y - H / 2) * dy + length / 2,
          aside = ((y - H / 2) * dx - (x - W / 2) * dy) / half;
        out[i] = along + bend * (aside + 0.35) ** 2 + tilt * aside < (f - 5) * 7 ? 1 : 0;
      }
    }
    return out;
  });
}

/** Up to the first frame in which all is covered. */
function wayOf(all: Uint8Array[]): number {
  const full = all.findIndex((m) => shareOf(m) === 1);
  return travelWay(all, 4, full < 0 ? all.length - 1 : full, W, H)!;
}

test.each([0, 20, 90, 115, 180, 205, 270, 340])('a bent edge shows that it travels by %i°', (angle) => {
  expect(apart(wayOf(masks(angle, 70)), angle)).toBeLessThan(3);
});

test.each([0, 90, 180, 270])('a straight edge that leans is taken to travel square to itself: %i°', (angle) => {
  const lean = (Math.atan2(25, (angle % 180 ? W : H) / 2) * 180) / Math.PI;
  expect(apart(wayOf(masks(angle, 0, 25)), angle + lean)).toBeLessThan(3);
});

test('what covers nothing travels nowhere', () => {
  expect(travelWay([new Uint8Array(W * H), new Uint8Array(W * H)], 0, 1, W, H)).toBeNull();
});
