import { BroadcastChannel } from 'node:worker_threads';
import { type News, readNews } from '#store/cluster/news.ts';
import { type Database, openDatabase } from '#store/database.ts';
import { nodeIsSynced } from '#store/node-state.ts';
import { StoreStatus } from '#store/store-status.ts';
import type { Log } from '../base/log.ts';

/** How long the store may take to answer the smallest question until it counts as silent, in milliseconds. */
const patience = 3_000;
/** What this thread did not get round to reading meanwhile is read in this time (milliseconds). */
const grace = 200;
/** How long another node may take, in milliseconds. */
const otherPatience = 1_500;

/** Threads hear over it that connections are to be cut. */
export const cutChannel = 'otter-store-cut';

/**
 * Watches whether the store answers. One that does not, be it gone, asleep or cut off from its cluster, is not asked anything until it
 * does again: what is under way fails at once, everywhere. Where the store has several nodes, the next one that
 * answers takes its place.
 */
export class StoreWatch {
  /** Over this connection nothing else is asked. */
  private readonly probe: Database;
  private readonly cuts = new BroadcastChannel(cutChannel);

  constructor(
    address: string,
    private readonly database: Database,
    private readonly engine: string,
    private readonly log: Log,
  ) {
    this.probe = openDatabase(address, 1, new StoreStatus());
    this.probe.standing.node = database.standing.node;
    this.cuts.unref();
  }

  /** Whether the store answered the last time. */
  get isThere(): boolean {
    return !this.database.standing.isSilent;
  }

  /** Looks what is new, by which to see that the store answers; undefined where it does not. */
  async look(): Promise<News | undefined> {
    const { standing, nodes } = this.database;
    const begun = performance.now();
    let news = await this.ask(standing.node, patience);
    // A connection that died meanwhile fails at once, and says nothing of the node.
    if (!news && performance.now() - begun < otherPatience) news = await this.ask(standing.node, otherPatience);
    if (news) return this.found(standing.node, news);
    this.silence();
    for (let step = 1; step < nodes; step++) {
      const node = (standing.node + step) % nodes;
      const there = await this.ask(node, otherPatience);
      if (there) return this.found(node, there);
    }
    return undefined;
  }

  async close(): Promise<void> {
    this.cuts.close();
    this.probe.cut();
    await this.probe.close();
  }

  private async ask(node: number, time: number): Promise<News | undefined> {
    const { probe } = this;
    if (probe.standing.node !== node) probe.cut();
    probe.standing.node = node;
    let timer: NodeJS.Timeout | undefined;
    const late = new Promise<undefined>((resolve) => {
      timer = setTimeout(() => setTimeout(() => resolve(undefined), grace), time);
    });
    const asked = this.askAtAll().catch(() => undefined);
    const news = await Promise.race([asked, late]).finally(() => clearTimeout(timer));
    if (!news) probe.cut();
    return news;
  }

  private async askAtAll(): Promise<News | undefined> {
    const { probe } = this;
    if (probe.nodes > 1 && !(await nodeIsSynced(probe))) return undefined;
    return await readNews(probe.db, this.engine);
  }

  private silence(): void {
    const { standing } = this.database;
    if (standing.isSilent) return;
    standing.isSilent = true;
    this.cut();
    this.log.warn('The store does not answer. Nothing is acknowledged until it does.');
  }

  private found(node: number, news: News): News {
    const { standing } = this.database;
    const isOther = node !== standing.node;
    standing.node = node;
    if (standing.isSilent) {
      standing.isSilent = false;
      this.log.warn(
        isOther ? `Node ${node + 1} of the store answers and is asked from now on.` : 'The store answers again.',
      );
    }
    if (isOther) this.cut();
    return news;
  }

  private cut(): void {
    this.database.cut();
    this.cuts.postMessage('');
  }
}
