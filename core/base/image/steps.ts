/**
 * The largest step from each pixel to one of the four beside it: unlike the gradient it sees detail as fine as the pixels.
 * @param apart how far two pixels, by index, lie apart, in any unit
 */
export function largestSteps(width: number, height: number, apart: (a: number, b: number) => number): Float32Array {
  const most = new Float32Array(width * height);
  const note = (a: number, b: number) => {
    const d = apart(a, b);
    if (d > most[a]) most[a] = d;
    if (d > most[b]) most[b] = d;
  };
  for (let y = 0, i = 0; y < height; y++) {
    for (let x = 0; x < width; x++, i++) {
      if (x + 1 < width) note(i, i + 1);
      if (y + 1 < height) note(i, i + width);
    }
  }
  return most;
}
