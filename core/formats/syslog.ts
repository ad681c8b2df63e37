import type { BatchBuilder } from '../events/batch-builder.ts';
import { severityFromSyslog } from '../events/severity.ts';
import { decode } from '../events/text-table.ts';
import { readIso, readSyslogTime } from '../events/times.ts';
import type { Format, ReadContext } from './format.ts';

const facilities = [
  'kern', 'user', 'mail', 'daemon', 'auth', 'syslog', 'lpr', 'news', 'uucp', 'cron', 'authpriv', 'ftp', 'ntp',
  'audit', 'alert', 'clock', 'local0', 'local1', 'local2', 'local3', 'local4', 'local5', 'local6', 'local7',
]; // biome-ignore format: one row of names reads better than one name a row

/** `<PRI>` at the start of a record: the priority and the offset behind it; undefined when there is none. */
function readPriority(bytes: Uint8Array, start: number, end: number): { value: number; next: number } | undefined {
  if (bytes[start] !== 60) return undefined;
  let value = 0;
  let at = start + 1;
  while (at < end && at - start <= 3) {
    const digit = (bytes[at] as number) - 48;
    if (digit < 0 || digit > 9) break;
    value = value * 10 + digit;
    at++;
  }
  return at > start + 1 && at < end && bytes[at] === 62 && value <= 191 ? { value, next: at + 1 } : undefined;
}

/** The offset of the next blank at or after `at`, or `end`. */
function blankAfter(bytes: Uint8Array, at: number, end: number): number {
  let i = at;
  while (i < end && bytes[i] !== 32) i++;
  return i;
}

function isNil(bytes: Uint8Array, start: number, end: number): boolean {
  return end - start === 1 && bytes[start] === 45;
}

function setPriority(builder: BatchBuilder, priority: number): void {
  builder.setSeverity(severityFromSyslog(priority & 7));
  builder.attribute('facility')?.setString(builder.row, facilities[priority >> 3] ?? String(priority >> 3));
}

function commit(builder: BatchBuilder, time: number, size: number, context: ReadContext): undefined {
  builder.setTime(time);
  builder.commit(context.backfill && time === time ? time : context.received, size, true);
  return undefined;
}

/** Records of the syslog protocol, RFC 5424: header, structured data (as `sd-id.name`), message. */
export const rfc5424: Format = {
  id: 'rfc5424',
  title: 'Syslog, RFC 5424',
  fits: (bytes, start, end) => {
    const priority = readPriority(bytes, start, end);
    return priority !== undefined && bytes[priority.next] === 49 && bytes[priority.next + 1] === 32;
  },
  reader: () => (bytes, start, end, builder, context) => {
    const priority = readPriority(bytes, start, end);
    if (!priority) return 'not RFC 5424: it does not begin with <priority>';
    if (bytes[priority.next] !== 49 || bytes[priority.next + 1] !== 32) return 'not RFC 5424: the version is not 1';
    const bounds: number[] = [];
    let at = priority.next + 2;
    for (let i = 0; i < 5; i++) {
      const stop = blankAfter(bytes, at, end);
      if (stop === at || stop >= end) return 'not RFC 5424: the header ends too early';
      bounds.push(at, stop);
      at = stop + 1;
    }
    const [timeStart, timeEnd, hostStart, hostEnd, appStart, appEnd, processStart, processEnd, idStart, idEnd] =
      bounds as [number, number, number, number, number, number, number, number, number, number];
    setPriority(builder, priority.value);
    if (!isNil(bytes, hostStart, hostEnd)) builder.emitter.set(builder.row, bytes, hostStart, hostEnd);
    setUnlessNil(builder, 'app', bytes, appStart, appEnd);
    setUnlessNil(builder, 'process', bytes, processStart, processEnd);
    setUnlessNil(builder, 'message.id', bytes, idStart, idEnd);
    const afterData = readStructuredData(bytes, at, end, builder);
    if (afterData < 0) {
      builder.rollback();
      return 'not RFC 5424: the structured data is not closed';
    }
    let body = afterData;
    if (bytes[body] === 32) body++;
    if (bytes[body] === 0xef && bytes[body + 1] === 0xbb && bytes[body + 2] === 0xbf) body += 3;
    builder.setBody(bytes, Math.min(body, end), end);
    const time = isNil(bytes, timeStart, timeEnd) ? Number.NaN : readIso(bytes, timeStart, timeEnd);
    return commit(builder, time, end - start, context);
  },
};

function setUnlessNil(builder: BatchBuilder, name: string, bytes: Uint8Array, start: number, end: number): void {
  if (!isNil(bytes, start, end)) builder.attribute(name)?.setText(builder.row, bytes, start, end);
}

/** Reads `-` or `[id name="value" …]…`; the offset behind it, or −1. */
function readStructuredData(bytes: Uint8Array, start: number, end: number, builder: BatchBuilder): number {
  if (bytes[start] === 45) return start + 1;
  let at = start;
  if (bytes[at] !== 91) return -1;
  while (at < end && bytes[at] === 91) {
    let stop = at + 1;
    while (stop < end && bytes[stop] !== 32 && bytes[stop] !== 93) stop++;
    const id = decode(bytes, at + 1, stop);
    at = stop;
    while (at < end && bytes[at] === 32) {
      at++;
      const equals = bytes.indexOf(61, at);
      if (equals < 0 || equals >= end || bytes[equals + 1] !== 34) return -1;
      const name = decode(bytes, at, equals);
      let close = equals + 2;
      let escaped = false;
      for (; close < end && bytes[close] !== 34; close++) {
        if (bytes[close] === 92) {
          escaped = true;
          close++;
        }
      }
      if (close >= end) return -1;
      const attribute = builder.attribute(`${id}.${name}`);
      if (!escaped) attribute?.setText(builder.row, bytes, equals + 2, close);
      else attribute?.setString(builder.row, decode(bytes, equals + 2, close).replace(/\\(["\\\]])/g, '$1'));
      at = close + 1;
    }
    if (bytes[at] !== 93 || at >= end) return -1;
    at++;
  }
  return at;
}

/**
 * Records of the older BSD syslog, RFC 3164: `<PRI>Mmm dd hh:mm:ss host tag[pid]: message`. Its time has no year and no
 * zone; UTC and the year closest to the arrival are assumed. As RFC 3164 asks, a record with no readable header is kept
 * whole as the message.
 */
export const rfc3164: Format = {
  id: 'rfc3164',
  title: 'Syslog, RFC 3164',
  fits: (bytes, start, end) => readPriority(bytes, start, end) !== undefined,
  reader: () => (bytes, start, end, builder, context) => {
    const priority = readPriority(bytes, start, end);
    if (!priority) return 'not RFC 3164: it does not begin with <priority>';
    setPriority(builder, priority.value);
    let at = priority.next;
    let time = readSyslogTime(bytes, at, Math.min(at + 15, end), context.received);
    if (time === time) at += 16;
    else {
      const stop = blankAfter(bytes, at, end);
      time = readIso(bytes, at, stop);
      if (time === time) at = stop + 1;
    }
    if (time === time && at < end) {
      const hostEnd = blankAfter(bytes, at, end);
      builder.emitter.set(builder.row, bytes, at, hostEnd);
      at = readTag(bytes, Math.min(hostEnd + 1, end), end, builder);
    }
    builder.setBody(bytes, Math.min(at, end), end);
    return commit(builder, time, end - start, context);
  },
};

/** Reads `tag: ` or `tag[pid]: `; the offset behind it, or where it began when there is no tag. */
function readTag(bytes: Uint8Array, start: number, end: number, builder: BatchBuilder): number {
  let at = start;
  while (at < end && isTagByte(bytes[at] as number)) at++;
  const tagEnd = at;
  let processStart = -1;
  let processEnd = -1;
  if (bytes[at] === 91) {
    processStart = at + 1;
    processEnd = bytes.indexOf(93, at);
    if (processEnd < 0 || processEnd >= end) return start;
    at = processEnd + 1;
  }
  if (tagEnd === start || bytes[at] !== 58 || at >= end) return start;
  builder.attribute('app')?.setText(builder.row, bytes, start, tagEnd);
  if (processStart >= 0) builder.attribute('process')?.setText(builder.row, bytes, processStart, processEnd);
  return bytes[at + 1] === 32 ? at + 2 : at + 1;
}

function isTagByte(byte: number): boolean {
  return byte > 32 && byte !== 58 && byte !== 91 && byte < 127;
}
