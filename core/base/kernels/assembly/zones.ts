/** The light of the picture's zones; see core/scene/zones.ts. */
/**
 * Of every third pixel: sums of each zone's difference over its free ones (`sums`, doubles, in units of `perStop`), of
 * the squared steps of the scaled difference from these to the next pixel (`steps`, doubles), how many they are, and
 * how many there are in all.
 */
export function addZones(
  luma: usize,
  zoneOf: usize,
  strength: usize,
  restless: usize,
  difference: usize,
  scaled: usize,
  perStop: usize,
  bound: f32,
  pixels: i32,
  sums: usize,
  steps: usize,
  counts: usize,
  all: usize,
): void {
  for (let i: usize = 0; i < usize(pixels); i += 3) {
    const v = load<f32>(luma + (i << 2));
    if (v < 12 || v > 240) continue;
    const z = usize(load<u8>(zoneOf + i));
    store<u32>(all + (z << 2), load<u32>(all + (z << 2)) + 1);
    if (load<f32>(strength + (i << 2)) > bound || load<u8>(restless + i)) continue;
    store<f64>(
      sums + (z << 3),
      load<f64>(sums + (z << 3)) + f64(load<f32>(difference + (i << 2)) / load<f32>(perStop + (i << 2))),
    );
    const step = f64(load<f32>(scaled + (i << 2)) - load<f32>(scaled + (min<usize>(i + 1, usize(pixels) - 1) << 2)));
    store<f64>(steps + (z << 3), load<f64>(steps + (z << 3)) + step * step);
    store<u32>(counts + (z << 2), load<u32>(counts + (z << 2)) + 1);
  }
}

/** Place of a pixel among the middles of so many zones along a line: whole zones and the rest. */
function placeAmong(zones: i32, pixel: i32, pixels: i32): f32 {
  return max<f32>(0, min<f32>(f32(zones) - 1.001, ((f32(pixel) + 0.5) * f32(zones)) / f32(pixels) - 0.5));
}

/**
 * Lays the light of `across` x `down` zones (`stops`) over the pixels, smoothly from zone to zone, in levels:
 * `perStop` is a stop's worth at each. `row` is scratch for a zone row's values.
 */
export function layZones(
  stops: usize,
  across: i32,
  down: i32,
  perStop: usize,
  width: i32,
  height: i32,
  row: usize,
  field: usize,
): void {
  for (let y = 0; y < height; y++) {
    const v = placeAmong(down, y, height);
    const j = i32(v);
    const fy = v - f32(j);
    for (let k = 0; k < across; k++) {
      const at = stops + (usize(j * across + k) << 2);
      const top = load<f32>(at);
      store<f32>(row + (usize(k) << 2), top + fy * (load<f32>(at + (usize(across) << 2)) - top));
    }
    for (let x = 0; x < width; x++) {
      const u = placeAmong(across, x, width);
      const k = i32(u);
      const left = load<f32>(row + (usize(k) << 2));
      const o = usize(y * width + x) << 2;
      store<f32>(
        field + o,
        (left + (u - f32(k)) * (load<f32>(row + (usize(k) << 2), 4) - left)) * load<f32>(perStop + o),
      );
    }
  }
}
