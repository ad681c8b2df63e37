import { type StepDocument, stepDocument, stepParts } from '#core/steps/step-document.ts';

/** Whether a template is a placeholder, which a learnt or proposed one replaces: empty, or the whole line as message. */
export const isPlaceholder = (text: string): boolean => text === '' || text === '{message:rest}';

/** The templates of an extract step. */
export function templatesOf(step: StepDocument): readonly string[] {
  const { options } = stepParts(step);
  return Array.isArray(options.templates) ? options.templates.map(String) : [String(options.template ?? '')];
}

/** An extract step with a template that was learnt or proposed: in the place of the last one when it continues it. */
export function withTemplate(step: StepDocument, template: string, again: boolean): StepDocument {
  const parts = stepParts(step);
  const { from = 'body' } = parts.options;
  const before = templatesOf(step);
  const kept = again ? before.slice(0, -1) : before.filter((text) => !isPlaceholder(text));
  const next = kept.includes(template) ? kept : [...kept, template];
  return stepDocument({
    ...parts,
    options: next.length === 1 ? { from, template: next[0] } : { from, templates: next },
  });
}
