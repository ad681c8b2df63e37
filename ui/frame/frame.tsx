'use client';

import { SunMoon } from 'lucide-react';
import Link from 'next/link';
import { type ReactNode, useCallback, useEffect, useState } from 'react';
import { useUnsavedWarning } from '../data/draft.ts';
import { type ShownZone, shownZone, showZone } from '../kit/times/shown-zone.ts';
import { useFieldFocus } from '../kit/use-field-focus.ts';
import { useIsAlive } from '../kit/use-is-alive.ts';
import { ChooseSides } from './choose-sides.tsx';
import { DraftStrip } from './draft-strip.tsx';
import { KeysHelp, useKeys } from './keys.tsx';
import { Navigation } from './navigation.tsx';
import { Palette } from './palette.tsx';
import { PostureStrip } from './posture-strip.tsx';
import { useScreensAhead } from './use-screens-ahead.ts';

/** The frame of every screen: the navigation above, the draft strip below. */
export function Frame({ children }: { readonly children: ReactNode }) {
  const [palette, setPalette] = useState(false);
  const [help, setHelp] = useState(false);
  const isAlive = useIsAlive();
  useUnsavedWarning();
  useFieldFocus();
  useScreensAhead();
  useKeys(
    useCallback(() => setPalette(true), []),
    useCallback(() => setHelp(true), []),
  );
  return (
    // A click that nothing hears yet would be lost without a word.
    <div inert={!isAlive}>
      <header className="flex h-16 items-stretch border-b border-hair bg-paper pr-6 pl-5">
        <Link href="/" className="flex w-[168px] items-center gap-2.5 text-[15px] font-[650] tracking-[-0.01em]">
          <Mark />
          Restless Otter
        </Link>
        <Navigation />
        <div className="flex items-center gap-3 pl-4 text-second">
          <ZoneSwitch />
          <ThemeSwitch />
          <button
            type="button"
            onClick={() => setPalette(true)}
            className="rounded border border-hair bg-sheet px-1.5 text-[12px]"
          >
            Ctrl K
          </button>
        </div>
      </header>
      <PostureStrip />
      {children}
      <DraftStrip />
      <ChooseSides />
      <Palette open={palette} onClose={() => setPalette(false)} />
      <KeysHelp open={help} onClose={() => setHelp(false)} />
    </div>
  );
}

function Mark() {
  return (
    <svg
      width="26"
      height="26"
      viewBox="0 0 26 26"
      fill="none"
      stroke="currentColor"
      strokeWidth="1.6"
      aria-hidden="true"
    >
      <path d="M1 17c3-3 5-3 8 0s5 3 8 0 5-3 8 0" />
      <path d="M1 22c3-3 5-3 8 0s5 3 8 0 5-3 8 0" opacity=".45" />
      <path d="M6 12c0-5 3-8 7-8s7 3 7 7" />
      <circle cx="16.2" cy="8.6" r=".9" fill="currentColor" />
    </svg>
  );
}

/** Switches all times between local and UTC. */
function ZoneSwitch() {
  const [zone, setZone] = useState<ShownZone>('local');
  useEffect(() => setZone(shownZone()), []);
  const other = zone === 'utc' ? 'local' : 'utc';
  return (
    <button
      type="button"
      onClick={() => showZone(other)}
      aria-label={other === 'utc' ? 'Show times in UTC' : 'Show local times'}
      title={zone === 'utc' ? 'Times are in UTC' : 'Times are local'}
      className="min-h-6 px-1 text-[12px] hover:text-ink"
    >
      {zone === 'utc' ? 'UTC' : 'local'}
    </button>
  );
}

function ThemeSwitch() {
  const turn = (): void => {
    const root = document.documentElement;
    const next = root.dataset.theme === 'night' ? 'day' : 'night';
    root.dataset.theme = next;
    localStorage.setItem('theme', next);
    window.dispatchEvent(new Event('themechange'));
  };
  return (
    <button
      type="button"
      onClick={turn}
      aria-label="Switch between day and night"
      title="Day or night"
      className="px-1 hover:text-ink"
    >
      <SunMoon size={16} aria-hidden="true" />
    </button>
  );
}
