import Link from 'next/link';
import { whyIn } from '../data/why-address.ts';
import { dayAndMinute } from '../kit/times/times.ts';

/** A link that explains a figure in a span of time (milliseconds). */
export function WhySpan(props: {
  readonly condition: string;
  readonly measure: string;
  readonly from: number;
  readonly to: number;
}) {
  const { condition, measure, from, to } = props;
  const window = `${new Date(from).toISOString()}..${new Date(to).toISOString()}`;
  return (
    <Link href={whyIn(condition, measure, window)} className="text-mark hover:underline">
      Why, {dayAndMinute(from)} to {dayAndMinute(to)}
    </Link>
  );
}
