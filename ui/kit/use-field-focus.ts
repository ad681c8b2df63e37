'use client';

import { useQueryState } from 'nuqs';
import { useEffect } from 'react';

/** How long a field may take to be drawn, in milliseconds, and how often it is looked for. */
const patience = 3_000;
const lookEvery = 100;

/**
 * Puts the cursor into the field that the address names (`field`), such as a link from a problem does: one with that name,
 * or with `data-field`. It does so once.
 */
export function useFieldFocus(): void {
  const [field, setField] = useQueryState('field');
  useEffect(() => {
    if (field === null) return;
    const end = Date.now() + patience;
    const timer = setInterval(() => {
      const name = CSS.escape(field);
      const found = document.querySelector<HTMLElement>(`[name="${name}"], [data-field="${name}"]`);
      const inside = found?.matches('input, textarea, button')
        ? found
        : found?.querySelector<HTMLElement>('input, textarea, .cm-content, button');
      if (!inside && Date.now() < end) return;
      clearInterval(timer);
      inside?.focus();
      inside?.scrollIntoView({ block: 'center' });
      void setField(null, { history: 'replace' });
    }, lookEvery);
    return () => clearInterval(timer);
  }, [field, setField]);
}
