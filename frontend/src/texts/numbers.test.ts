import { expect, test } from 'vitest';

import { duration, offset, readOffset, share, signed } from './numbers';

test.each([
  [0, '0'],
  [-47, '−47'],
  [3600, '+1:00:00'],
  [-90_061, '−25:01:01'],
  [0.5, '+0.5'],
])('an offset of %s s is written %s', (seconds, text) => {
  expect(offset(seconds)).toBe(text);
  expect(readOffset(text)).toBe(seconds);
});

test.each([
  ['-47', -47],
  ['–1:30', -90],
  ['+1:00:00', 3600],
  ['47 s', 47],
  ['2,5', 2.5],
  ['-0', 0],
  ['soon', null],
  ['', null],
  ['1:2:3:4', null],
])('%s typed is %s', (typed, seconds) => {
  expect(readOffset(typed)).toBe(seconds);
});

test('signs and shares', () => {
  expect([signed(-0.667, 2), signed(1, 1), signed(0.001, 1)]).toEqual(['−0.67', '+1', '0']);
  expect([share(0.123), share(0.004), share(0.0349)]).toEqual(['12 %', '0.4 %', '3.5 %']);
});

test.each([
  [0.2, '1 s'],
  [89, '89 s'],
  [100, '2 min'],
  [5400, '1 h 30 min'],
])('%s s are said as %s', (seconds, text) => {
  expect(duration(seconds)).toBe(text);
});
