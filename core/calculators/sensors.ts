/** Size of the area of a sensor that makes the picture, millimetres. */
export interface Sensor {
  key: string;
  name: string;
  width_mm: number;
  height_mm: number;
}

/** Common sensors and formats. Nominal sizes: a camera's own data sheet knows better, and the table can be edited. */
export const SENSORS: readonly Sensor[] = [
  { key: 'full-frame', name: 'Full frame', width_mm: 36, height_mm: 24 },
  { key: 'super-35', name: 'Super 35', width_mm: 24.9, height_mm: 18.7 },
  { key: 'aps-c', name: 'APS-C', width_mm: 23.5, height_mm: 15.6 },
  { key: 'aps-c-small', name: 'APS-C small', width_mm: 22.3, height_mm: 14.9 },
  { key: 'four-thirds', name: 'Four Thirds', width_mm: 17.3, height_mm: 13 },
  { key: 'one-inch', name: '1 inch type', width_mm: 13.2, height_mm: 8.8 },
  { key: 'super-16', name: 'Super 16', width_mm: 12.5, height_mm: 7.4 },
  { key: 'phone-main', name: '1/1.3 inch type (phone)', width_mm: 9.8, height_mm: 7.3 },
  { key: 'two-thirds', name: '2/3 inch type', width_mm: 8.8, height_mm: 6.6 },
  { key: 'phone-small', name: '1/2.55 inch type (phone)', width_mm: 5.6, height_mm: 4.2 },
];

/** The part of a sensor that a picture of this shape uses: its whole width or its whole height. */
export function usedArea(sensorWidth: number, sensorHeight: number, aspect: number): { width: number; height: number } {
  return sensorWidth / sensorHeight > aspect
    ? { width: sensorHeight * aspect, height: sensorHeight }
    : { width: sensorWidth, height: sensorWidth / aspect };
}
