import { statfs } from 'node:fs/promises';
import { formatBytes } from '#core/events/units.ts';
import type { Database } from '#store/database.ts';
import { reusableBytes } from '#store/reusable.ts';
import type { EngineConfig } from '../base/config.ts';
import type { Log } from '../base/log.ts';

/** Of what the disk has to have free so much is needed in any case: the store's files grow by more than events alone. */
const hardShare = 1 / 4;
/** More than the reserve by so much has to be free until there is room again: it is not turned on and off all the time. */
const again = 1.2;
/** For how long it is not asked again how much of its files the store can use anew, in milliseconds. */
const askEvery = 30_000;

/** Bounds of what is to stay free where nothing is said, in bytes. */
const leastReserve = 2.56e8;
const mostReserve = 2e9;

/** Where the store is when it is on this machine, and how many bytes of its disk are to stay free. */
export interface DiskPlace {
  /** Empty: it is somewhere else, and nothing is known of its disk. */
  readonly folder: string;
  readonly reserve: number;
}

/**
 * Watches how much room the store has: MariaDB ends when its disk is full, so nothing more is taken in before that. What is free
 * within its files counts as room, as long as there is some on the disk too.
 */
export class DiskWatch {
  /** Bytes that are free on the disk; undefined where nothing is known of it. */
  free: number | undefined;
  isFull = false;
  /** When it became full the last time, in milliseconds. */
  fullSince = 0;
  private reusable = 0;
  private askedAt = 0;

  constructor(
    private readonly database: Database,
    private readonly place: DiskPlace,
    private readonly log: Log,
  ) {}

  /** Looks how much is free. */
  async look(): Promise<void> {
    const { folder, reserve } = this.place;
    if (folder === '') return;
    const { bavail, bsize } = await statfs(folder);
    this.free = bavail * bsize;
    const wanted = this.isFull ? reserve * again : reserve;
    const before = this.isFull;
    this.isFull = this.free < wanted && (this.free < wanted * hardShare || this.free + (await this.within()) < wanted);
    if (this.isFull && !before) {
      this.fullSince = Date.now();
      this.log.error(
        `The disk of the store has only ${formatBytes(this.free)} free of the ${formatBytes(reserve)} that are to stay free. Nothing is taken in until there is room.`,
      );
    }
    if (before && !this.isFull) this.log.warn('The disk of the store has room again; events are taken in.');
  }

  /** Bytes that the store can use anew within its files, as it said not long ago. */
  private async within(): Promise<number> {
    const now = Date.now();
    if (now - this.askedAt > askEvery) {
      this.askedAt = now;
      this.reusable = await reusableBytes(this.database).catch(() => 0);
    }
    return this.reusable;
  }
}

/** How many bytes are to stay free where nothing is said: a fiftieth of the disk, within bounds. */
export async function reserveOf({
  storeFolder,
  diskReserve,
}: Pick<EngineConfig, 'storeFolder' | 'diskReserve'>): Promise<number> {
  if (diskReserve !== undefined || storeFolder === '') return diskReserve ?? 0;
  const { blocks, bsize } = await statfs(storeFolder);
  return Math.min(mostReserve, Math.max(leastReserve, (blocks * bsize) / 50));
}
