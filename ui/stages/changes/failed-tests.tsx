import type { RehearsalAnswer } from '#core/rehearsal/rehearsal-answer.ts';

/** Tests of pipelines that the draft fails. */
export function FailedTests({ tests }: { readonly tests: RehearsalAnswer['failedTests'] }) {
  if (tests.length === 0) return null;
  return (
    <div>
      <h2>Failing tests</h2>
      <ul aria-label="Failing tests" className="text-[12.5px]">
        {tests.map(({ path, message }) => (
          <li key={path} className="border-t border-hair py-1 text-danger">
            ◆ {message}
          </li>
        ))}
      </ul>
      <p className="text-[12.5px] text-second">The draft cannot be published until they pass.</p>
    </div>
  );
}
