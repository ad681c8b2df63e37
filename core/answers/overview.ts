import type { Currency } from '../costs/book/price-book.ts';
import type { Amount, PricedAmount } from '../routing/volume-sums.ts';

/** Something that needs the engineer, with the place to go to. */
export interface Attention {
  readonly kind:
    | 'disk-full'
    | 'clock-ahead'
    | 'silent-source'
    | 'silent-emitters'
    | 'parse-failures'
    | 'volume-jump'
    | 'volume-surge'
    | 'set-aside'
    | 'prediction-missed'
    | 'cap-near'
    | 'cap-met'
    | 'series-limit'
    | 'budget-near'
    | 'budget-crossed';
  readonly level: 'danger' | 'caution';
  readonly source: string;
  /** The tier, where it is about one. */
  readonly tier?: string;
  /** The revision, where it is about one. */
  readonly revision?: number;
  /** The metric, where it is about one. */
  readonly metric?: string;
  readonly title: string;
  readonly detail: string;
  /** The figure shown at the right, in words. */
  readonly figure: string;
  /** When it began, in milliseconds. */
  readonly since: number;
}

/** A stream of the flow map. */
export interface FlowLink extends PricedAmount {
  readonly from: string;
  readonly to: string;
}

/** A place of the flow map. `kind` says where it is and how it is drawn. */
export interface FlowNode extends PricedAmount {
  readonly id: string;
  readonly title: string;
  readonly kind: 'source' | 'parsed' | 'unparsed' | 'tier' | 'excluded' | 'passing' | 'rejected';
  /** For tiers: the shade, 0 the palest. */
  readonly shade?: number;
}

export interface FlowMap {
  readonly nodes: readonly FlowNode[];
  readonly links: readonly FlowLink[];
}

/** One day (or hour) of volume, by where it went. */
export interface VolumeSlice {
  readonly start: number;
  readonly places: Readonly<Record<string, PricedAmount>>;
}

export interface OverviewView {
  readonly flow: FlowMap;
  /** Null where nothing has a price. */
  readonly currency: Currency | null;
  /** What arrived in the last day. */
  readonly arrived: Amount;
  readonly kept: Amount;
  readonly keptShare: number;
  readonly parsedShare: number;
  readonly sources: number;
  readonly slices: readonly VolumeSlice[];
  /** The places of the slices, bottom first. */
  readonly places: readonly VolumePlace[];
}

/** Where volume went; `shade` as in {@link FlowNode}. */
export type VolumePlace = Pick<FlowNode, 'id' | 'title' | 'kind' | 'shade'>;

/** `GET /api/overview` */
export interface OverviewAnswer extends OverviewView {
  readonly attention: readonly Attention[];
  readonly revision: number;
  readonly at: number;
}

/** `GET /api/stages`: the live figures under the names of the stages. */
export interface StageFiguresAnswer {
  readonly at: number;
  /** Over the last minute. */
  readonly eventsPerSecond: number;
  /** Events that arrived in the last 24 hours; with none, the shares say nothing. */
  readonly arrived: number;
  /** Of the events of the last 24 hours, from 0 to 1. */
  readonly parsedShare: number;
  /** Of the bytes of the last 24 hours, from 0 to 1. */
  readonly keptShare: number;
  readonly storedEvents: number;
  /** Series of metrics that something came for in the last 30 days. */
  readonly series: number;
  readonly revision: number;
  /** What this month comes to, or came to so far where no more can be said, in coins; null without a price book. */
  readonly month: { readonly currency: Currency; readonly coins: number; readonly isForecast: boolean } | null;
  /** How many things need someone, by stage. */
  readonly needs: {
    readonly sources: number;
    readonly parsing: number;
    readonly routing: number;
    readonly metrics: number;
    readonly costs: number;
  };
}
