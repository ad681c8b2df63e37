'use client';

import { useRouter } from 'next/navigation';
import { type ReactNode, useState } from 'react';
import { toast } from 'sonner';
import { call } from '../../data/client.ts';
import { useDraft } from '../../data/draft.ts';

/** Opens a new exclusion for some events in the tier that keeps most of them. `name` describes them in messages. */
export function ExcludeEvents(props: {
  readonly name: string;
  readonly condition: string;
  readonly className: string;
  readonly children: ReactNode;
}) {
  const { name, condition, className, children } = props;
  const { plan } = useDraft();
  const router = useRouter();
  const [isBusy, setBusy] = useState(false);
  const begin = async (): Promise<void> => {
    setBusy(true);
    try {
      const question = {
        condition,
        from: '-1d',
        to: 'now',
        show: 'count() by tier',
        limit: 0,
        fields: false,
        background: true,
      };
      const { summary } = await call('search', question);
      const kept = (summary?.rows ?? []).map(([tier, events]) => [String(tier), Number(events)] as const);
      const [most] = kept.filter(([tier]) => plan?.tiers.some(({ id }) => id === tier)).sort((a, b) => b[1] - a[1]);
      if (most) router.push(`/routing?${new URLSearchParams({ tier: most[0], noise: condition })}`);
      else toast(`No tier has kept anything of ${name} in the last day: there is nothing to exclude.`);
    } catch (error) {
      toast.error(error instanceof Error ? error.message : 'The tier that keeps it could not be determined.');
    } finally {
      setBusy(false);
    }
  };
  return (
    <button
      type="button"
      disabled={isBusy}
      onClick={() => void begin()}
      aria-label={`Exclude ${name}`}
      className={`disabled:opacity-50 ${className}`}
    >
      {children}
    </button>
  );
}
