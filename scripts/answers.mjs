import { spawnSync } from 'node:child_process';
import { writeFileSync } from 'node:fs';
import { pathToFileURL } from 'node:url';

/** Where the description of what the API answers stands. */
const file = 'app/_server/answer-schemas.json';

/** The JSON Schemas of what operations answer (`core/answers/index.ts`), by the names of their types. */
export async function answerSchemas() {
  const { createFormatter, createParser, createProgram, DEFAULT_CONFIG, SchemaGenerator } = await import(
    'ts-json-schema-generator'
  );
  const { DocumentTypes } = await import('./document-types.mjs');
  const config = {
    ...DEFAULT_CONFIG,
    path: 'core/answers/index.ts',
    tsconfig: 'tsconfig.json',
    type: 'Answers',
    skipTypeCheck: true,
    additionalProperties: true,
  };
  const program = createProgram(config);
  const parser = createParser(program, config, (parsers) => parsers.addNodeParser(new DocumentTypes(program)));
  const { definitions } = new SchemaGenerator(program, parser, createFormatter(config), config).createSchema('Answers');
  return JSON.parse(JSON.stringify(definitions).replaceAll('#/definitions/', '#/components/schemas/'));
}

if (import.meta.url === pathToFileURL(process.argv[1] ?? '').href) {
  writeFileSync(file, JSON.stringify(await answerSchemas(), null, 2));
  spawnSync('node', ['node_modules/@biomejs/biome/bin/biome', 'format', '--write', file], { stdio: 'inherit' });
}
