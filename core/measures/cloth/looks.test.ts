import { BODY, SHADOW } from '../../presence/shade';
import { seededNormal } from '../../base/numeric/random';
import { clothFrame, measureCloth, type ClothFrame } from './measure';
import { apartBy, binOf, Look, ratios } from './cloth-look';
import { cutOut } from '../../movers/cutout';
import { detailOf, smearOf } from '../../movers/smear';
import { Unlike } from '../../base/image/unlike';

describe.each([1, 2, 3])('a figure that moves under an open shutter, seed %i', (seed) => {
  const [W, H, FACTOR] = [320, 180, 4];
  const normal = seededNormal(seed);
  const behind = Float32Array.from(
    { length: W * H },
    (_, i) => 120 + 20 * Math.sin((i % W) / 11) + 15 * Math.cos(((i / W) | 0) / 6),
  );
  const skin = Float32Array.from({ length: 400 * 200 }, (_, i) => 45 + 8 * Math.sin(i / 3));
  /** Its left side goes from x to x + smear while the shutter is open; its edges are a pixel and a half soft. */
  const picture = (x: number, smear: number, grain = 1.5) =>
    behind.map((v, i) => {
      const [u, w] = [i % W, (i / W) | 0];
      let own = 0;
      if (u < x - 2 || u > x + smear + 62 || w < 48 || w > 132) return v + grain * normal();
      const looks = 16;
      for (let k = 0; k < looks; k++) {
        const at = x + (smear * (k + 0.5)) / looks;
        const soft = (d: number) => Math.max(0, Math.min(1, d / 1.5 + 0.5));
        own += Math.min(soft(u - at), soft(at + 60 - u), soft(w - 50), soft(130 - w)) / looks;
      }
      return v * (1 - own) + skin[w * 400 + Math.max(0, u - Math.floor(x))] * own + grain * normal();
    });
  const maskOf = (x: number, smear: number) =>
    Uint8Array.from({ length: (W / FACTOR) * (H / FACTOR) }, (_, i) => {
      const [u, w] = [((i % (W / FACTOR)) + 0.5) * FACTOR, (Math.floor(i / (W / FACTOR)) + 0.5) * FACTOR];
      return u > x + smear / 2 && u < x + smear / 2 + 60 && w > 50 && w < 130 ? 1 : 0;
    });
  const about = { behind, width: W, height: H, maskWidth: W / FACTOR, factor: FACTOR, noise: 1.5 };

  test.each([6, 12, 24])('%i px of smear are read to a quarter', (smear) => {
    const input = { ...about, picture: picture(120, smear), mask: maskOf(120, smear), pace: [2 * smear, 0] as const };
    const { blur } = smearOf(input);
    expect(Math.abs(blur! - 0.8 * smear)).toBeLessThan(0.25 * 0.8 * smear);
  });

  test('what stands still is not smeared, and is the sharper', () => {
    const still = { ...about, picture: picture(120, 0), mask: maskOf(120, 0), pace: [0, 0] as const };
    expect(smearOf(still).blur).toBe(0);
    const moved = { ...about, picture: picture(120, 14), mask: maskOf(120, 14), pace: [28, 0] as const };
    expect(detailOf(still)!).toBeGreaterThan(0);
    expect(detailOf(moved)).not.toBeNull();
  });

  test('who looks like what lies behind cannot be read', () => {
    const same = { ...about, picture: behind, mask: maskOf(120, 0), pace: [10, 0] as const };
    expect(smearOf(same).blur).toBeNull();
  });
});

test('a cut-out is opaque where the figure is, and as dark as its shadow where that is', () => {
  const [W, H] = [40, 24];
  const kinds = new Uint8Array(W * H);
  const fill = (kind: number, x0: number, x1: number) => {
    for (let y = 4; y < 20; y++) kinds.fill(kind, y * W + x0, y * W + x1);
  };
  fill(BODY, 4, 14);
  fill(SHADOW, 20, 34);
  const behind = new Float32Array(W * H).fill(0.5 * 255);
  // Half of the light, linearly.
  const luma = behind.map((v, i) => (kinds[i] === SHADOW ? v / 2 : v));
  const data = new Uint8Array(3 * W * H).fill(90);
  const out = cutOut({
    data,
    most: 255,
    width: W,
    height: H,
    luma,
    behind,
    kinds,
    gridWidth: W,
    factor: 1,
    curve: 'linear',
  });
  const at = (x: number, y: number) => [...out.slice(4 * (y * W + x), 4 * (y * W + x) + 4)];
  expect(at(9, 12)).toEqual([90, 90, 90, 255]);
  expect(at(0, 0)).toEqual([0, 0, 0, 0]);
  const [r, g, b, a] = at(27, 12);
  expect([r, g, b]).toEqual([0, 0, 0]);
  expect(Math.abs(a - 127)).toBeLessThan(4);
  const sixteen = { data: new Uint16Array(3 * W * H).fill(9000), most: 65535 as const };
  const deep = cutOut({
    ...sixteen,
    width: W,
    height: H,
    luma,
    behind,
    kinds,
    gridWidth: W,
    factor: 1,
    curve: 'linear',
  });
  expect([deep[4 * (12 * W + 9)], deep[4 * (12 * W + 9) + 3]]).toEqual([9000, 65535]);
});

describe('cloth and performer', () => {
  test('are told apart by their colours, and not where they have the same', () => {
    const [red, green] = [new Look(), new Look()];
    for (let k = 0; k < 500; k++) {
      red.add(150 + (k % 20), 40, 40);
      green.add(40, 120 + (k % 25), 60);
    }
    const [a, b] = [red.spread(), green.spread()];
    const likes = ratios(a, b);
    expect(likes[binOf(155, 40, 40)]).toBeGreaterThan(0);
    expect(likes[binOf(40, 130, 60)]).toBeLessThan(0);
    expect(apartBy(a, b)).toBeGreaterThan(0.9);
    expect(apartBy(a, a)).toBeLessThan(0.01);
  });

  test('in one frame: how much of each, where, how the edge leans', () => {
    const [W, H] = [60, 40];
    const body = new Uint8Array(W * H),
      likes = new Float32Array(W * H);
    for (let y = 10; y < 38; y++)
      for (let x = 10; x < 50; x++) {
        // The cloth's upper edge falls by one pixel in four to the right.
        const cloth = x >= 20 && y >= 12 + (x - 20) / 4;
        if (!cloth && x >= 26) continue;
        body[y * W + x] = 1;
        likes[y * W + x] = cloth ? 2 : -2;
      }
    const found = clothFrame(body, likes, W, H);
    expect(found.box!.x).toBe(20);
    expect(Math.abs(found.tilt! - 14)).toBeLessThan(2.5);
    expect(found.shows!.x).toBe(10);
    expect(found.performer).toBeGreaterThan(200);
  });

  test('a rim that is read as somebody is the edge of the cloth, an arm beside it is not', () => {
    const [W, H] = [120, 80];
    const found = (thick: number) => {
      const body = new Uint8Array(W * H),
        likes = new Float32Array(W * H);
      for (let y = 10; y < 70; y++)
        for (let x = 30; x < 80 + thick; x++) {
          body[y * W + x] = 1;
          likes[y * W + x] = x < 80 ? 2 : -2;
        }
      return clothFrame(body, likes, W, H);
    };
    expect(found(3).shows).toBeNull();
    expect(found(9).shows).toMatchObject({ y: 10, height: 60 });
  });

  /** A cloth that goes up over somebody, stays, and falls by 4 pixels a frame; with whoever shows beside it in some frames. */
  const frames = (beside: (f: number) => boolean): ClothFrame[] =>
    Array.from({ length: 80 }, (_, f) => {
      const top = f < 20 ? 90 : f < 50 ? 20 : Math.min(82, 20 + 4 * (f - 50));
      const box = { x: 40, y: top, width: 60, height: 100 - top };
      const shows = f < 20 || beside(f) ? { x: 60, y: 30, width: 16, height: 60 } : null;
      const performer = shows ? 700 : 0;
      return { cloth: 60 * (100 - top), performer, box, tilt: 0, shows, leaves: false, hands: null };
    });
  const measured = (beside: (f: number) => boolean) =>
    measureCloth({ frames: frames(beside), width: 160, height: 100, factor: 2, fps: 25, cloth: true });

  test('hidden from when to when, how it falls, and where it lands', () => {
    const c = measured(() => false);
    expect(c.kind).toBe('drop');
    expect(c.hides_runs[0].start).toBe(20);
    // Its upper edge is below the top of their head from frame 54 on.
    expect(Math.abs(c.hides_runs[0].end - 53)).toBeLessThanOrEqual(1);
    expect(c.lands_frame).toBe(66);
    expect(c.fall!.speed_px_per_frame).toBeCloseTo(8, 0);
    expect(c.leftovers).toEqual([]);
    expect(c.performer_clear_frame).toBe(20);
  });

  test('whoever shows beside it after the switch is left over, frame by frame', () => {
    const c = measured((f) => f >= 60 && f < 66);
    expect(c.leftovers.map((l) => l.frame).sort()).toEqual([60, 61, 62, 63, 64, 65]);
    expect(c.performer_clear_frame).toBe(66);
    expect(measured((f) => f === 60).leftovers).toEqual([]);
  });

  test('what differs from the empty picture is somebody, a light shadow or a change of light is not', () => {
    const [W, H] = [40, 30];
    const normal = seededNormal(4);
    const empty = Uint8Array.from({ length: 3 * W * H }, (_, k) => 100 + 30 * Math.sin(k / 90));
    const rgb = empty.map((v, k) => {
      const x = ((k / 3) | 0) % W;
      const own = x > 8 && x < 16 ? [160, 40, 60][k % 3] : x > 24 && x < 32 ? v * 0.75 : v;
      return Math.round(own * 1.1 + normal());
    });
    const out = new Uint8Array(W * H);
    new Unlike(empty, W, H, 1).mask(rgb, out);
    expect(out[15 * W + 12]).toBe(1);
    expect([out[15 * W + 28], out[15 * W + 2], out[15 * W + 36]]).toEqual([0, 0, 0]);
  });
});
