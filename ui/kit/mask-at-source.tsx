'use client';

import { useState } from 'react';
import { toast } from 'sonner';
import { replacements } from '#core/masks/mask.ts';
import { call } from '../data/client.ts';
import { Button } from './button.tsx';

/** A mask step covers what follows it; here it can become its source's mask, which also covers the tape. */
export function MaskAtSource(props: {
  readonly options: Readonly<Record<string, unknown>>;
  readonly source: string;
  /** Called when the source masks it, and the step is no longer needed. */
  readonly onMoved: () => void;
}) {
  const [busy, setBusy] = useState(false);
  const [find, after] = [textOf(props.options.find), textOf(props.options.after)];
  const replacement = replacements.find((one) => one === props.options.with) ?? 'hash';
  if (!find && !after) {
    return <p className="text-[12.5px] text-caution">▲ The tape and the rejects still have this field unmasked.</p>;
  }
  const move = async (): Promise<void> => {
    setBusy(true);
    try {
      const { source } = await call('source', { name: props.source });
      const rule = { ...(find ? { find } : { after }), with: replacement };
      await call('changeSource', { name: props.source, settings: { masks: [...(source.settings.masks ?? []), rule] } });
      const { changed } = await call('scrubTape', { name: props.source });
      toast.success(`${props.source} masks it at the intake from now on; ${changed} lines on the tape were masked.`);
      props.onMoved();
    } catch (error) {
      toast.error(error instanceof Error ? error.message : 'The source could not be saved.');
    } finally {
      setBusy(false);
    }
  };
  return (
    <p className="flex items-center gap-3 text-[12.5px] text-caution">
      <span>▲ The tape and the rejects still have it unmasked.</span>
      <Button type="button" disabled={busy} onClick={() => void move()}>
        Mask in {props.source}, at the intake and on the tape
      </Button>
    </p>
  );
}

function textOf(option: unknown): string | undefined {
  return typeof option === 'string' && option !== '' ? option : undefined;
}
