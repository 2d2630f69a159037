import { createHash } from 'node:crypto';
import fc from 'fast-check';
import { XMLParser, XMLValidator } from 'fast-xml-parser';
import Papa from 'papaparse';
import type { CoverEdges } from '../report/wipe-types';
import { cameraPathCsv } from './camera-path';
import { coverEdgesCsv, edgePoints } from './cover-edges';
import { c4Of, chainXml, hashListXml, listName, readChain, readHashList } from './media-hash-list';
import { shapesSvg } from './shapes-svg';

const SIZE = { width: 200, height: 100 };

test('shapes are drawn in the picture’s own pixels, whatever they are called', () => {
  const says = 'A < B & "C" > D';
  const svg = shapesSvg(says, SIZE, [
    {
      id: 'seam',
      points: [
        [1.234, 0],
        [5, 100],
      ],
      closed: false,
      says,
    },
    {
      id: 'zone',
      points: [
        [0, 0],
        [9, 0],
        [9, 9],
      ],
      closed: true,
      says,
    },
  ]);
  expect(XMLValidator.validate(svg)).toBe(true);
  const read = new XMLParser({ ignoreAttributes: false }).parse(svg).svg;
  expect([read['@_viewBox'], read.title]).toEqual(['0 0 200 100', says]);
  expect(read.path.map((p: Record<string, string>) => p['@_d'])).toEqual(['M1.23 0 L5 100', 'M0 0 L9 0 L9 9 Z']);
});

test('a camera’s path says what its numbers mean, and leaves out what is not known', () => {
  const path = { dx_px: [0, 1.5, null], dy_px: [0, -2, null], rotation_deg: [0, 0.01, null], scale: [1, 1.001, null] };
  const csv = cameraPathCsv('a.mov', [30000, 1001], { path, reference_frame: 0 } as never);
  expect(csv).toMatch(/^# a\.mov, 30000\/1001 frames a second/);
  const { data, meta } = Papa.parse<Record<string, string>>(csv.trim(), { comments: '#', header: true });
  expect(meta.fields).toEqual(['frame', 'seconds', 'dx_px', 'dy_px', 'rotation_deg', 'scale']);
  expect(data[1]).toMatchObject({ frame: '1', seconds: '0.033367', dx_px: '1.500', dy_px: '-2.000' });
  expect(data[2].dx_px).toBe('');
});

test('an edge is written where it crosses three lines, and drawn on from side to side', () => {
  const edges: CoverEdges = { way: 0, lead: [[10], [20], [30]], trail: [[null], [5], [6]] };
  const csv = coverEdgesCsv('a.mov', edges, SIZE);
  expect(csv).toContain('leading_at_y25_px');
  expect(csv).toContain('0,10.00,20.00,30.00,,5.00,6.00');
  expect(edgePoints(edges, 'lead', 0, SIZE)).toEqual([
    [0, 0],
    [10, 25],
    [20, 50],
    [30, 75],
    [40, 100],
  ]);
  expect(edgePoints({ ...edges, way: 90 }, 'lead', 0, SIZE)[1]).toEqual([50, 10]);
  expect(edgePoints({ ...edges, lead: [[1], [null], [null]] }, 'lead', 0, SIZE)).toEqual([]);
});

test('a hash list is read back as it was written, whatever files are called', () => {
  const name = fc.string({ minLength: 1, maxLength: 30, unit: fc.constantFrom(...'aZ09 _-.&<>"\'ü影') });
  const path = name.map((n) => n.trim().replace(/\s+/g, ' ') || 'x');
  fc.assert(
    fc.property(fc.array(fc.record({ path, bytes: fc.nat() }), { maxLength: 8 }), (rows) => {
      const files = rows.map((r) => ({ ...r, changed: '2027-10-05T14:03:00+00:00', xxh64: '0123456789abcdef' }));
      const made = '2027-10-05T15:00:00+00:00';
      const xml = hashListXml({ made, tool: { name: 'Umbrastat', version: '0.1.0' }, host: 'quay', files });
      expect(XMLValidator.validate(xml)).toBe(true);
      expect(readHashList(xml)).toEqual(files);
    }),
  );
  expect(readHashList('<html><body>no</body></html>')).toBeNull();
});

test('lists are named and chained as the standard has it', () => {
  const made = '2027-10-05T15:04:05+00:00';
  expect(listName(1, 'night-ferry', made)).toBe('0001_night-ferry_2027-10-05_150405Z.mhl');
  const c4 = c4Of(createHash('sha512').update('').digest());
  // SMPTE ST 2114 gives this id for nothing at all.
  expect(c4).toBe('c459dsjfscH38cYeXXYogktxf4Cd9ibshE3BHUo6a58hBXmRQdZrAkZzsWcbWtDg5oQstpDuni4Hirj75GEmTc1sFT');
  const lists = [{ path: 'a.mhl', c4 }];
  expect(readChain(chainXml(lists))).toEqual(lists);
});
