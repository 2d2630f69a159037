import { analyseTake } from '../../core/take/analyse';
import { decodedSource, type DecodedFrame, type DecodedFrames } from '../../core/take/decoded-source';

/** A take as a page hands it over: what is known of it, and all its frames, plane after plane. */
export type RawTake = Omit<DecodedFrames, 'frames'> & { bytes: ArrayBuffer };

/** What is held against the same measured from its file. */
export interface MeasuredInWorker {
  dx: (number | null)[];
  dy: (number | null)[];
  stops: (number | null)[];
  present: (boolean | null)[];
}

const here = globalThis as unknown as {
  onmessage: (event: { data: RawTake }) => void;
  postMessage: (answer: MeasuredInWorker | { failed: string }) => void;
};

async function measured({ bytes, ...take }: RawTake): Promise<MeasuredInWorker> {
  const [pixels, colour] = [take.luma.width * take.luma.height, take.colour.width * take.colour.height];
  const frame = (n: number): DecodedFrame => {
    const at = n * (pixels + 2 * colour);
    const plane = (from: number, count: number) => new Uint8Array(bytes, at + from, count);
    return { luma: plane(0, pixels), blue: plane(pixels, colour), red: plane(pixels + colour, colour) };
  };
  const source = decodedSource({
    ...take,
    async *frames() {
      for (let n = 0; n < take.times.length; n++) yield frame(n);
    },
  });
  const { lock, light, figures } = await analyseTake({ name: 'take', source });
  return {
    dx: lock.path.dx_px,
    dy: lock.path.dy_px,
    stops: light.path.stops,
    present: figures.map((f) => f && f.length > 0),
  };
}

here.onmessage = ({ data }) => {
  measured(data).then(here.postMessage.bind(here), (e: Error) =>
    here.postMessage({ failed: `${e.message} ${e.stack}` }),
  );
};
