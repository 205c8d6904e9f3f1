import { secondsText } from './strollText';

it('seconds read as minutes and seconds', () => {
  expect([0, 4.4, 59.6, 65, 600].map((s) => secondsText(s))).toEqual(['0:00', '0:04', '1:00', '1:05', '10:00']);
  expect([0, 4.44, 59.96, 65.25].map((s) => secondsText(s, true))).toEqual(['0:00.0', '0:04.4', '1:00.0', '1:05.3']);
});
