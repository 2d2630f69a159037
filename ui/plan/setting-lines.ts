import { tidy } from '../../core/calculators/kinds';
import type { CameraNotes } from '../../core/plan/types';

/** A shutter as it is read out: "1/50 s". */
export function shutterText(seconds: number): string {
  return seconds >= 0.5 ? `${tidy(seconds)} s` : `1/${tidy(1 / seconds)} s`;
}

/** What is noted of the camera, as name and value; what is not noted is left out. */
export function settingLines(c: CameraNotes): { key: string; name: string; value: string }[] {
  const number = (key: keyof CameraNotes, name: string, unit: string) => {
    const v = c[key];
    return typeof v === 'number' ? [{ key, name, value: `${tidy(v, 5)}${unit}` }] : [];
  };
  return [
    ...(c.camera ? [{ key: 'camera', name: 'Camera', value: c.camera }] : []),
    ...(c.lens || c.focal_mm !== null
      ? [{ key: 'lens', name: 'Lens', value: c.lens || `${tidy(c.focal_mm ?? 0)} mm` }]
      : []),
    ...(c.width !== null && c.height !== null
      ? [{ key: 'size', name: 'Size', value: `${c.width} × ${c.height} px` }]
      : []),
    ...number('fps', 'Rate', ' fps'),
    ...(c.shutter_s !== null ? [{ key: 'shutter', name: 'Shutter', value: shutterText(c.shutter_s) }] : []),
    ...number('iso', 'ISO', ''),
    ...number('white_k', 'White', ' K'),
    ...number('focus_m', 'Focus', ' m'),
    ...number('height_m', 'Lens over ground', ' m'),
    ...number('tilt_deg', 'Tilt', '°'),
  ];
}
