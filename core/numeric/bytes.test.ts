import { bytesInWords } from './bytes';

test('sizes are said in megabytes, and in gigabytes from one on', () => {
  expect([0, 4_200_000, 999_000_000, 1e9, 12_345_678_901].map(bytesInWords)).toEqual([
    '0.0 MB',
    '4.2 MB',
    '999.0 MB',
    '1.00 GB',
    '12.35 GB',
  ]);
});
