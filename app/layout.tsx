import type { Metadata } from 'next';
import { headers } from 'next/headers';
import { NuqsAdapter } from 'nuqs/adapters/next/app';
import type { ReactNode } from 'react';
import { Toaster } from 'sonner';
import { Frame } from '#ui/frame/frame.tsx';
import { zoneKey } from '#ui/kit/times/shown-zone.ts';
import './globals.css';

export const metadata: Metadata = {
  title: 'Restless Otter',
  description: 'Log volume, source health and storage cost, under control.',
};

/** Sets the theme and the zone of times before anything is drawn, so that nothing flashes. */
const choicesScript = `const { dataset } = document.documentElement;
dataset.theme = localStorage.getItem('theme') ?? (matchMedia('(prefers-color-scheme: dark)').matches ? 'night' : 'day');
dataset.times = localStorage.getItem('${zoneKey}') ?? 'local';`;

export default async function Layout({ children }: { readonly children: ReactNode }) {
  // Every page is made when it is asked for: its scripts carry the nonce of that answer.
  const nonce = (await headers()).get('x-nonce') ?? '';
  return (
    <html lang="en" suppressHydrationWarning>
      <head>
        {/* biome-ignore lint/security/noDangerouslySetInnerHtml: a constant of ours that has to run before the first paint */}
        <script nonce={nonce} suppressHydrationWarning dangerouslySetInnerHTML={{ __html: choicesScript }} />
      </head>
      <body>
        <NuqsAdapter defaultOptions={{ history: 'push' }}>
          <Frame>{children}</Frame>
        </NuqsAdapter>
        <Toaster
          position="top-right"
          toastOptions={{ style: { background: 'var(--sheet)', color: 'var(--ink)', border: '1px solid var(--hair)' } }}
        />
      </body>
    </html>
  );
}
