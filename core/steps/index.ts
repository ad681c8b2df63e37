import { choose } from './choose.ts';
import { compute } from './compute.ts';
import { convert } from './convert.ts';
import { copy } from './copy.ts';
import { dropBody } from './drop-body.ts';
import { extract } from './extract.ts';
import { joinLines } from './join-lines.ts';
import { keepOnly } from './keep-only.ts';
import { locate } from './locate.ts';
import { map } from './map.ts';
import { mask } from './mask.ts';
import { parseCsv } from './parse-csv.ts';
import { parseJson } from './parse-json.ts';
import { parsePairs } from './parse-pairs.ts';
import { parseQuery } from './parse-query.ts';
import { readAgent } from './read-agent.ts';
import { remove } from './remove.ts';
import { rename } from './rename.ts';
import { setSeverity } from './set-severity.ts';
import { setTime } from './set-time.ts';
import { splitArray } from './split-array.ts';
import type { StepKind } from './step.ts';
import { templateBody } from './template-body.ts';

/** All step kinds by name. Each checks its own options, so they are held without their option types. */
export const stepKinds: ReadonlyMap<string, StepKind> = new Map(
  [
    extract,
    parseJson,
    parsePairs,
    parseCsv,
    parseQuery,
    setTime,
    setSeverity,
    rename,
    copy,
    remove,
    keepOnly,
    convert,
    compute,
    map,
    readAgent,
    locate,
    mask,
    dropBody,
    templateBody,
    joinLines,
    splitArray,
    choose,
  ].map((kind) => [kind.kind, kind as unknown as StepKind]),
);
