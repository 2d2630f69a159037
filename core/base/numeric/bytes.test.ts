import { bytesInWords } from './bytes';

test('sizes are said in kilobytes, megabytes and gigabytes', () => {
  expect([0, 58_400, 4_200_000, 999_000_000, 1e9, 12_345_678_901].map(bytesInWords)).toEqual([
    '0.0 kB',
    '58.4 kB',
    '4.2 MB',
    '999.0 MB',
    '1.00 GB',
    '12.35 GB',
  ]);
});
