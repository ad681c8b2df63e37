import { spawn } from 'node:child_process';
import { once } from 'node:events';

/** A script that prints the compiler's errors in the files given as arguments, as JSON. It runs in the project's folder. */
const look = `
const ts = require('typescript');
const { config } = ts.readConfigFile('tsconfig.json', ts.sys.readFile);
const { options } = ts.parseJsonConfigFileContent(config, ts.sys, '.');
const files = process.argv.slice(1);
const program = ts.createProgram([...files, 'next-env.d.ts'], { ...options, incremental: false, tsBuildInfoFile: undefined });
const faults = files.flatMap((name) => {
  const file = program.getSourceFile(name);
  return [...program.getSyntacticDiagnostics(file), ...program.getSemanticDiagnostics(file)];
});
console.log(JSON.stringify(faults.map(({ file, messageText }) => file.fileName + ': ' + ts.flattenDiagnosticMessageText(messageText, ' '))));
`;

/** Type errors in some files of a project, each with its file. Imported files are read but not checked. */
export async function typeFaults(root: string, files: readonly string[]): Promise<readonly string[]> {
  const compiler = spawn('node', ['-e', look, ...files.filter((file) => /\.tsx?$/.test(file))], {
    cwd: root,
    stdio: ['ignore', 'pipe', 'inherit'],
  });
  let text = '';
  compiler.stdout.on('data', (more) => (text += more));
  await once(compiler, 'close');
  return JSON.parse(text);
}
