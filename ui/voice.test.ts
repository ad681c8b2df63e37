import { readFileSync } from 'node:fs';
import { globSync } from 'tinyglobby';
import ts from 'typescript';
import { expect, test } from 'vitest';

/** Where people read what stands in the code: screens, API descriptions, answers of the engine. */
const files = globSync('{ui,app,core/operations,core/answers,engine}/**/*.{ts,tsx}', { ignore: '**/*.test.ts' });

/** Phrases that are out, each with what says the same plainly. */
const out: readonly (readonly [RegExp, string])[] = [
  [/\b(put|puts|take|takes) (it |this |them )?into the draft/i, 'add to draft'],
  [/\btak(e|es|en) up again/i, 'restore'],
  [/\b(thrown?|throws) (it )?away/i, 'discard'],
  [/\blets? (it|them|their time|its time) go\b/i, 'delete, expire'],
  [/\b(comes?|came) in\b/i, 'arrive'],
  [/\blies? (here|there)\b/i, 'is stored'],
  [/\b(that|what|which) fits?\b/i, 'matching'],
  [/\bcannot be told\b|\bcould not be told\b|\bis told\b/i, 'could not be loaded, is shown'],
  [/\bnobody contributed\b/i, 'no events'],
  [/\bwhose it is\b|\bwhat it is for\b|\bwho reads them\b/i, 'owner, purpose, what uses them'],
  [/\bof whom\b|\bsay so\b/i, 'group by, save'],
  [/\bthe rule rests\b/i, 'off'],
  [/\bis (no|none) (time|window|pattern|book|plan)\b/i, 'is not a …'],
  [/\bis another one by now\b/i, 'has changed'],
  [/\bonce everything has its age\b/i, 'once every tier is full'],
  [/\bby the tape of the last day\b.*\bwould\b/i, 'on the last day of recorded events'],
  [/^make (a|an|the|it) /i, 'create …'],
];

/** The texts of a file that have more than one word, with their lines. */
function textsOf(file: string): readonly (readonly [line: number, text: string])[] {
  const source = ts.createSourceFile(file, readFileSync(file, 'utf8'), ts.ScriptTarget.Latest, true);
  const found: (readonly [number, string])[] = [];
  const visit = (node: ts.Node): void => {
    const isText = ts.isJsxText(node) || ts.isStringLiteralLike(node) || ts.isTemplateHead(node);
    const text = isText || ts.isTemplateMiddleOrTemplateTail(node) ? node.text.replace(/\s+/g, ' ').trim() : '';
    if (text.includes(' ')) found.push([source.getLineAndCharacterOfPosition(node.getStart()).line + 1, text]);
    ts.forEachChild(node, visit);
  };
  visit(source);
  return found;
}

test('no phrase that is out stands on a screen, in an answer or in a description', () => {
  expect(files.length).toBeGreaterThan(300);
  const faults = files.flatMap((file) =>
    textsOf(file).flatMap(([line, text]) =>
      out.filter(([phrase]) => phrase.test(text)).map(([, plain]) => `${file}:${line} “${text}”: write ${plain}`),
    ),
  );
  expect(faults).toEqual([]);
});
