import { spawnSync } from 'node:child_process';
import { writeFileSync } from 'node:fs';
import { pathToFileURL } from 'node:url';
import { build } from 'esbuild';

/** Where the description of what the API answers stands, and where the client reads how each operation is addressed. */
const schemasFile = 'app/_server/answer-schemas.json';
const routesFile = 'ui/data/routes.json';

/**
 * The JSON Schemas of what operations answer (`core/answers/index.ts`), by the names of their types; `Answers` has those of the
 * operations.
 * @returns {Promise<Readonly<Record<string, unknown>>>}
 */
export async function answerSchemas() {
  const { ChainNodeParser, createFormatter, createParser, createProgram, DEFAULT_CONFIG, SchemaGenerator } =
    await import('ts-json-schema-generator');
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
  const parser = createParser(program, config, (parsers) => {
    if (parsers instanceof ChainNodeParser) parsers.addNodeParser(new DocumentTypes(program, parsers));
  });
  const { definitions } = new SchemaGenerator(program, parser, createFormatter(config), config).createSchema('Answers');
  return JSON.parse(JSON.stringify(definitions).replaceAll('#/definitions/', '#/components/schemas/'));
}

/** The method and path of each operation, and the type of a body that is no JSON: screens need no more of them than that. */
async function operationRoutes() {
  const { outputFiles } = await build({
    entryPoints: ['core/operations/index.ts'],
    bundle: true,
    format: 'esm',
    platform: 'node',
    write: false,
  });
  const code = Buffer.from(outputFiles[0]?.contents ?? []).toString('base64');
  const { operations } = await import(`data:text/javascript;base64,${code}`);
  const routeOf = (/** @type {{ method: string, path: string, takes?: string }} */ { method, path, takes }) => ({
    method,
    path,
    ...(takes && { takes }),
  });
  return Object.fromEntries(Object.entries(operations).map(([name, operation]) => [name, routeOf(operation)]));
}

if (import.meta.url === pathToFileURL(process.argv[1] ?? '').href) {
  writeFileSync(schemasFile, JSON.stringify(await answerSchemas(), null, 2));
  writeFileSync(routesFile, JSON.stringify(await operationRoutes(), null, 2));
  spawnSync('node', ['node_modules/@biomejs/biome/bin/biome', 'format', '--write', schemasFile, routesFile], {
    stdio: 'inherit',
  });
}
