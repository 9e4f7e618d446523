import { expect, it } from 'vitest';
import { browserName } from './browserName';

it.each([
  [
    'Mozilla/5.0 (X11; Linux x86_64) AppleWebKit/537.36 (KHTML, like Gecko) Chrome/150.0 Safari/537.36',
    'Chrome on Linux',
  ],
  ['Mozilla/5.0 (Linux; Android 15) AppleWebKit/537.36 Chrome/150.0 Mobile Safari/537.36', 'Chrome on Android'],
  ['Mozilla/5.0 (Windows NT 10.0; Win64; x64; rv:140.0) Gecko/20100101 Firefox/140.0', 'Firefox on Windows'],
  ['Mozilla/5.0 (iPhone; CPU iPhone OS 18_0 like Mac OS X) Version/18.0 Safari/604.1', 'Safari on iOS'],
  ['curl/8.5', 'curl/8.5'],
  ['', 'unknown'],
])('%s', (agent, name) => {
  expect(browserName(agent)).toBe(name);
});
