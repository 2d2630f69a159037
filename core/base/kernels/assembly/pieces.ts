/** Whole pieces of one kind that are likelier another; see core/presence/labels.ts for the model. */

/** What it costs that two neighbours are of these kinds: somebody's border costs `weight`, a shadow's `agree`. */
// @ts-ignore: decorator
@inline
function between(a: u8, b: u8, weight: f32, agree: f32): f32 {
  if (a === b) return 0;
  return a === 1 || b === 1 ? weight : agree;
}

/**
 * Turns pieces of one kind into another where that is likelier for all of the piece, its borders counted: what pixels and
 * their neighbours cannot settle one by one. A piece ends where the picture changes. @param pieces room, bytes @param list
 * room, words; both as many as the picture has pixels
 */
export function movePieces(
  kind: usize,
  from: i32,
  to: i32,
  asFrom: usize,
  asTo: usize,
  across: usize,
  down: usize,
  agree: f32,
  width: i32,
  left: i32,
  top: i32,
  right: i32,
  bottom: i32,
  pieces: usize,
  list: usize,
): void {
  const a = u8(from),
    b = u8(to),
    whole: f32 = agree / 2;
  for (let y = top; y <= bottom; y++) memory.fill(pieces + usize(y * width + left), 0, right - left + 1);
  for (let y = top; y <= bottom; y++) {
    for (let x = left; x <= right; x++) {
      const start = y * width + x;
      if (load<u8>(kind + usize(start)) !== a || load<u8>(pieces + usize(start))) continue;
      let count = 1,
        change: f32 = 0;
      store<u32>(list, u32(start));
      store<u8>(pieces + usize(start), 1);
      for (let k = 0; k < count; k++) {
        const i = i32(load<u32>(list + (usize(k) << 2)));
        const u = i % width,
          v = i / width;
        change += load<f32>(asTo + (usize(i) << 2)) - load<f32>(asFrom + (usize(i) << 2));
        for (let side = 0; side < 4; side++) {
          let j = i,
            weight: f32 = 0;
          if (side === 0) {
            if (u === left) continue;
            j = i - 1;
            weight = load<f32>(across + (usize(j) << 2));
          } else if (side === 1) {
            if (u === right) continue;
            j = i + 1;
            weight = load<f32>(across + (usize(i) << 2));
          } else if (side === 2) {
            if (v === top) continue;
            j = i - width;
            weight = load<f32>(down + (usize(j) << 2));
          } else {
            if (v === bottom) continue;
            j = i + width;
            weight = load<f32>(down + (usize(i) << 2));
          }
          const other = load<u8>(kind + usize(j));
          const mark = load<u8>(pieces + usize(j));
          if (other === a && mark !== 2 && weight >= whole) {
            if (mark) continue;
            store<u8>(pieces + usize(j), 1);
            store<u32>(list + (usize(count++) << 2), u32(j));
            continue;
          }
          // A neighbour of the same piece by another way has been, or will be, counted as inside it.
          if (mark === 1) continue;
          change += between(b, other, weight, agree) - between(a, other, weight, agree);
        }
      }
      const turned = change < 0;
      for (let k = 0; k < count; k++) {
        const i = usize(load<u32>(list + (usize(k) << 2)));
        store<u8>(pieces + i, 2);
        if (turned) store<u8>(kind + i, b);
      }
    }
  }
}
