/** Four values at a time. */

/** The four floats' total. */
// @ts-ignore: decorator
@inline
export function total(v: v128): f64 {
  return (
    f64(f32x4.extract_lane(v, 0)) +
    f64(f32x4.extract_lane(v, 1)) +
    f64(f32x4.extract_lane(v, 2)) +
    f64(f32x4.extract_lane(v, 3))
  );
}

/** The four whole numbers' total. */
// @ts-ignore: decorator
@inline
export function totalOfWhole(v: v128): i32 {
  return i32x4.extract_lane(v, 0) + i32x4.extract_lane(v, 1) + i32x4.extract_lane(v, 2) + i32x4.extract_lane(v, 3);
}

/** Four bytes as floats. */
// @ts-ignore: decorator
@inline
export function bytesAt(at: usize): v128 {
  return f32x4.convert_i32x4_s(v128.extend_low<u16>(v128.extend_low<u8>(v128.load32_zero(at))));
}
