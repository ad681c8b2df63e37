import type { WhyAnswer, WhyRow } from '../../../data/answers.ts';
import { FigurePending, Mark } from '../../../kit/figure.tsx';
import { Sentence } from '../../../kit/sentence.tsx';
import { dayAndMinute } from '../../../kit/times/times.ts';
import { figureInWords, isAmount, lengthOf, ratioInWords, shareInWords, whereInWords } from './in-words.ts';
import type { Why } from './use-why.ts';

/** What changed, since when, and which values explain it. */
export function WhySentence(props: { readonly why: Why; readonly subject: string; readonly window: string }) {
  const { why, subject, window } = props;
  const { answer, error, isWindow, isBeside } = why;
  if (!isWindow) return <Sentence>{window} is not a time window.</Sentence>;
  if (!isBeside) return <Sentence>{why.beside} is not a time window.</Sentence>;
  if (error) return <Sentence>The change could not be explained.</Sentence>;
  if (!answer) {
    return (
      <Sentence>
        Comparing <FigurePending /> events …
      </Sentence>
    );
  }
  if (answer.verdict === 'nothing')
    return <Sentence>Not enough events of {subject} to compare. Try a longer window.</Sentence>;
  const [first] = answer.rows;
  return (
    <Sentence>
      <Moved answer={answer} subject={subject} />
      {answer.verdict === 'usual' ? (
        <>: as usual.</>
      ) : (
        <>
          {answer.began !== undefined && (
            <>
              {' '}
              since <Mark>{dayAndMinute(answer.began)}</Mark>
            </>
          )}
          {first ? <Explains rows={answer.rows} first={first} /> : <Spread answer={answer} />}
        </>
      )}
    </Sentence>
  );
}

function Moved({ answer, subject }: { readonly answer: WhyAnswer; readonly subject: string }) {
  const { before, since, unit } = answer;
  const verb = unit === 'coins' ? 'costs' : 'sends';
  if (!isAmount(answer) || before === null || since === null || before === 0)
    return (
      <>
        {subject}: <Mark>{figureInWords(before, answer)}</Mark> became <Mark needs>{figureInWords(since, answer)}</Mark>
      </>
    );
  const ratio = since / before;
  if (answer.verdict === 'usual')
    return (
      <>
        {subject} {verb} <Mark>{figureInWords(since, answer)}</Mark> {unit === 'count' && 'events '}in{' '}
        {lengthOf(answer)}, <Mark>{figureInWords(before, answer)}</Mark> before
      </>
    );
  return ratio >= 1 ? (
    <>
      {subject} {verb} <Mark>{ratio >= 1.95 ? ratioInWords(ratio) : `${ratio.toFixed(2)} ×`}</Mark> as much
    </>
  ) : (
    <>
      {subject} {verb} <Mark>{ratioInWords(ratio).replace('− ', '')}</Mark> {ratio === 0 ? '' : 'less'}
    </>
  );
}

/** From this share on, other events clearly moved the other way. */
const overshoot = 1.25;

function Explains({ rows, first }: { readonly rows: readonly WhyRow[]; readonly first: WhyRow }) {
  return (
    <>
      ; <Mark needs>{whereInWords(first)}</Mark> explains{' '}
      {first.share > overshoot ? 'more than all' : <Mark>{shareInWords(first)}</Mark>} of it
      {rows.length > 1 && `, with ${rows.length - 1} more below`}.
    </>
  );
}

function Spread({ answer: { needed } }: { readonly answer: WhyAnswer }) {
  return (
    <>
      ; no small set of values explains it
      {needed && (
        <>
          , 80 % of it takes <Mark>{needed.values}</Mark> values of {needed.field}
        </>
      )}
      .
    </>
  );
}
