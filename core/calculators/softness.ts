import { ask, numberOf, tidy, type SumSheet } from './kinds';
import { lensArea, LENS_INPUTS } from './cover';

/**
 * Diameter of the blur disc of a point out of focus, mm on the sensor (thin lens):
 * f^2 |d - s| / (N d (s - f)), with focal length f, f-number N, focus distance s and object distance d, all in mm.
 * @throws RangeError when the focus lies inside the focal length
 */
export function blurDisc(focalMm: number, fNumber: number, focusM: number, objectM: number): number {
  const s = focusM * 1000;
  const d = objectM * 1000;
  if (s <= focalMm) throw new RangeError('The focus distance must be longer than the focal length.');
  return (focalMm * focalMm * Math.abs(d - s)) / (fNumber * d * (s - focalMm));
}

/** Way of a point across the sensor while the shutter is open, mm (pinhole). */
export function motionBlur(speed: number, shutter: number, focalMm: number, distanceM: number): number {
  return (speed * shutter * focalMm) / distanceM;
}

export const SOFTNESS: SumSheet = {
  kind: 'softness',
  name: 'Softness of an edge',
  answers: 'How soft will the object’s edge be, and so how wide a feather to expect?',
  inputs: [
    ask('aperture', 'Aperture, f/', '', 2.8, 0.7, 64),
    ask('focus', 'Focused at', 'm', 3, 0.05, 10000),
    ask('distance', 'Object at', 'm', 0.9, 0.05, 10000),
    ask('speed', 'Its speed across', 'm/s', 1.4, 0, 100),
    ask('shutter', 'Shutter: one over', '1/s', 50, 1, 8000),
    ask('delivery_width', 'Delivery width', 'px', 1920, 16, 16384),
    ...LENS_INPUTS,
  ],
  work: (values) => {
    const n = (key: string) => numberOf(SOFTNESS, values, key);
    const area = lensArea(SOFTNESS, values);
    const pixels = n('delivery_width') / area.width;
    const disc = blurDisc(n('focal'), n('aperture'), n('focus'), n('distance')) * pixels;
    const smear = motionBlur(n('speed'), 1 / n('shutter'), n('focal'), n('distance')) * pixels;
    return {
      answers: [
        { label: 'feather to expect', value: tidy(disc + smear), unit: 'px', main: true },
        { label: 'by focus', value: tidy(disc), unit: 'px' },
        { label: 'by movement', value: tidy(smear), unit: 'px' },
      ],
      working:
        `focus: f² × |d − s| ÷ (N × d × (s − f)) = ${tidy(disc / pixels)} mm; movement: ` +
        `${tidy(n('speed'))} m/s ÷ ${tidy(n('shutter'))} × ${tidy(n('focal'))} mm ÷ ${tidy(n('distance'))} m = ` +
        `${tidy(smear / pixels)} mm; ${tidy(pixels)} px a mm`,
      cautions: smear > 60 ? ['The edge is smeared over many pixels: good for a wipe, bad for a cut-out.'] : [],
      curve: {
        xLabel: 'object at, m',
        yLabel: 'feather, px',
        at: { x: n('distance'), y: disc + smear },
        points: Array.from({ length: 20 }, (_, i) => {
          const d = (Math.max(n('focus') * 1.5, n('distance') * 2) * (i + 1)) / 20;
          return {
            x: d,
            y:
              (blurDisc(n('focal'), n('aperture'), n('focus'), d) +
                motionBlur(n('speed'), 1 / n('shutter'), n('focal'), d)) *
              pixels,
          };
        }),
      },
    };
  },
};
