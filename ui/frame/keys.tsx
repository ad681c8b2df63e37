'use client';

import { useRouter } from 'next/navigation';
import { useEffect } from 'react';
import { Dialog } from '../kit/dialog.tsx';
import { stages } from './navigation.tsx';

/** The keys that work everywhere. */
const keys: readonly (readonly [string, string])[] = [
  ['/', 'go to the condition'],
  [`1 – ${stages.length}`, 'go to a stage'],
  ['Ctrl K', 'go anywhere by name'],
  ['?', 'show these keys'],
  ['Esc', 'close the panel'],
];

/** Listens for the keys that work everywhere, unless someone is typing. */
export function useKeys(openPalette: () => void, openHelp: () => void): void {
  const router = useRouter();
  useEffect(() => {
    const press = (event: KeyboardEvent): void => {
      if ((event.ctrlKey || event.metaKey) && event.key.toLowerCase() === 'k') {
        event.preventDefault();
        openPalette();
        return;
      }
      const target = event.target as HTMLElement | null;
      if (
        event.ctrlKey ||
        event.metaKey ||
        event.altKey ||
        target?.closest('input, textarea, [contenteditable="true"], [role="radiogroup"]')
      )
        return;
      const stage = stages[Number(event.key) - 1];
      if (stage) router.push(stage.path);
      else if (event.key === '?') openHelp();
      else if (event.key === '/') {
        event.preventDefault();
        const editor = document.querySelector<HTMLElement>('[data-condition] [contenteditable]');
        if (editor) editor.focus();
        else router.push('/explore?focus=1');
      }
    };
    window.addEventListener('keydown', press);
    return () => window.removeEventListener('keydown', press);
  }, [router, openPalette, openHelp]);
}

/** The list of keys. */
export function KeysHelp({ open, onClose }: { readonly open: boolean; readonly onClose: () => void }) {
  return (
    <Dialog open={open} title="Keys" onClose={onClose}>
      <table className="w-full">
        <tbody>
          {keys.map(([key, meaning]) => (
            <tr key={key} className="border-t border-hair">
              <td className="line w-28 py-1.5">{key}</td>
              <td>{meaning}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </Dialog>
  );
}
