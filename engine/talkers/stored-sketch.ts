import { deflateRawSync, inflateRawSync } from 'node:zlib';
import { NumberReader, NumberWriter } from '#core/events/number-bytes.ts';
import { packTalkers, type ReadTalkers, readTalkers, type TalkerSketch } from '#core/talkers/talker-sketch.ts';

/** A sketch as it is stored; `start` (milliseconds) is where what it covers begins. */
export function packStored(sketch: TalkerSketch, start: number): Buffer {
  const writer = new NumberWriter();
  packTalkers(writer, sketch, start);
  return deflateRawSync(writer.bytes(), { level: 1 });
}

/** Reads what {@link packStored} wrote. */
export function readStored(data: Uint8Array, start: number): ReadTalkers {
  return readTalkers(new NumberReader(inflateRawSync(data)), start);
}
