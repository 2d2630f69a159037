import { XMLBuilder } from 'fast-xml-parser';

/** A line or an outline over a picture, in its pixels. */
export interface Shape {
  /** Unique in the picture: "seam". */
  id: string;
  points: readonly (readonly [number, number])[];
  closed: boolean;
  /** What it is, for whoever reads it: "Seam, pass A on its left, feather 40 px". */
  says: string;
}

const builder = new XMLBuilder({ ignoreAttributes: false, format: true, suppressBooleanAttributes: false });

/** Shapes over a picture as SVG, one path each, in the picture's own pixels. */
export function shapesSvg(title: string, size: { width: number; height: number }, shapes: readonly Shape[]): string {
  return builder.build({
    '?xml': { '@_version': '1.0', '@_encoding': 'UTF-8' },
    svg: {
      '@_xmlns': 'http://www.w3.org/2000/svg',
      '@_width': size.width,
      '@_height': size.height,
      '@_viewBox': `0 0 ${size.width} ${size.height}`,
      title,
      path: shapes.map(({ id, points, closed, says }) => ({
        '@_id': id,
        '@_d': `${points.map(([x, y], i) => `${i ? 'L' : 'M'}${short(x)} ${short(y)}`).join(' ')}${closed ? ' Z' : ''}`,
        '@_fill': 'none',
        '@_stroke': '#b3461d',
        '@_stroke-width': Math.max(2, Math.round(size.width / 640)),
        title: says,
      })),
    },
  });
}

const short = (v: number) => String(Math.round(v * 100) / 100);
