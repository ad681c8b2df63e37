import { type Detector, isDigit, isWordByte } from './detector.ts';

/** IPv4 addresses in dotted form. */
export const ip: Detector = {
  id: 'ip',
  title: 'IPv4 addresses',
  help: 'Takes four numbers from 0 to 255 with dots between.',
  find: (bytes, start, end, visit) => {
    let at = start;
    while (at < end) {
      if (!isDigit(bytes[at]) || (at > start && (isWordByte(bytes[at - 1]) || bytes[at - 1] === 46))) {
        at++;
        continue;
      }
      const first = at;
      let parts = 0;
      for (;;) {
        let value = 0;
        const from = at;
        while (at < end && at - from < 3 && isDigit(bytes[at])) value = value * 10 + (bytes[at++] as number) - 48;
        if (at === from || value > 255) break;
        parts++;
        if (parts === 4 || bytes[at] !== 46 || at >= end) break;
        at++;
      }
      const goesOn =
        at < end && (isWordByte(bytes[at]) || (bytes[at] === 46 && at + 1 < end && isDigit(bytes[at + 1])));
      if (parts === 4 && !goesOn) visit(first, at);
      else while (at < end && (isWordByte(bytes[at]) || bytes[at] === 46)) at++;
    }
  },
};
