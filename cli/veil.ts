import { readFileSync, watch } from 'node:fs';
import { dirname } from 'node:path';
import { print, type Speaks } from './answer.ts';
import { packageRoot } from './packageRoot.ts';
import { readArguments, Refusal, type Command } from './command.ts';

/** Each command is read when it is asked for, so that starting takes no time. */
const COMMANDS: Readonly<Record<string, () => Promise<Command>>> = {
  check: async () => (await import('./commands/check.ts')).check,
  compile: async () => (await import('./commands/compile.ts')).compile,
  evaluate: async () => (await import('./commands/evaluate.ts')).evaluate,
  bake: async () => (await import('./commands/bake.ts')).bake,
  rehearse: async () => (await import('./commands/rehearse.ts')).rehearse,
  sweep: async () => (await import('./commands/sweep.ts')).sweep,
  operators: async () => (await import('./commands/operators.ts')).operators,
  import: async () => (await import('./commands/importGlsl.ts')).importGlsl,
  new: async () => (await import('./commands/newDocument.ts')).newDocument,
};

/** As the commands say of themselves: told here so that they need not be read for it. A test compares them. */
export const SUMMARIES: Readonly<Record<string, readonly [usage: string, summary: string]>> = {
  check: [
    'check PATH… [--strict] [--watch]',
    'Says what is wrong in documents, a folder of them, or GLSL, and where.',
  ],
  compile: [
    'compile PATH --to glsl,wgsl,contract,bindings [--out DIR] [--force] [--watch]',
    'Writes shaders as GLSL ES 3.00, as WGSL, as their parameter contract, or as typed TypeScript modules.',
  ],
  evaluate: [
    'evaluate FILE --strand NAME --points FILE.json [--material NAME] [--parameter NAME=VALUE] [--picture NAME=FILE.png]',
    'Computes a strand, or an output of the surface, at points.',
  ],
  bake: [
    'bake PATH --strand NAME --out DIR|x.png|x.exr [--size 512|512x256] [--bits 8|16|32] [--material NAME] [--parameter NAME=VALUE] [--picture NAME=FILE.png] [--force] [--watch]',
    'Computes strands over a square of uv, or the textures of a project, and writes them as PNG or OpenEXR.',
  ],
  sweep: [
    'sweep FILE --of PARAMETER [--from NUMBER] [--to NUMBER] [--samples 64] [--strand NAME] [--over square|MESH] [--csv] [--material NAME] [--parameter NAME=VALUE] [--picture NAME=FILE.png]',
    'Runs a parameter through its range and tells where nothing and where all of it shows.',
  ],
  rehearse: [
    'rehearse PROJECT [--take NAME] [--values FILE.json] [--force]',
    'Plays recorded takes again, with scripts, cues and rules, and compares every number.',
  ],
  operators: ['operators', 'Lists every operator: its signature, its cost and what it does.'],
  import: [
    'import FILE.glsl [--varying NAME=EXPRESSION] [--out FILE.shader.json]',
    'Makes a shader document of a GLSL fragment, ES 3.00 or 1.00.',
  ],
  new: [
    'new KIND',
    'Prints a document to begin with: shader, material, motif, texture, stage, script or shared.',
  ],
};

const help = (): string => `veil: shaders from a terminal or a game's build, with no browser and no database.

${Object.values(SUMMARIES)
  .map(([usage, summary]) => `  veil ${usage}\n      ${summary}`)
  .join('\n')}

Every command takes --help; --json for answers that programs read, one shape for all of them; --strict, by which what is
only worth knowing ends with 1 too. Errors go to standard error. veil --version tells the version.
It ends with 0 when all is well, 1 when a file has mistakes, 2 when it was called wrongly.`;

const version = (): string =>
  (JSON.parse(readFileSync(new URL('package.json', packageRoot()), 'utf8')) as { version: string }).version;

/** Does what a call asks for. @param words of the call, without the program's name. @returns the exit code */
export const veil = async (words: readonly string[], speaks: Speaks): Promise<number> => {
  const [name = '', ...rest] = words;
  const json = words.includes('--json');
  const say = (text: string): void => speaks.out(`${text}\n`);

  const refuse = (error: unknown): number => {
    const refusal = error instanceof Refusal ? error : null;
    const message = refusal?.message ?? (error instanceof Error ? error.message : String(error));
    const findings = refusal?.findings ?? [{ severity: 'mistake', message }];
    if (json) say(JSON.stringify({ command: name, ok: false, findings }, null, 2));
    else speaks.err(`${message}\n`);
    return refusal?.code ?? 1;
  };
  const once = async (command: Command): Promise<number> => {
    try {
      const answer = await command.run(readArguments(rest, command));
      return print(speaks, name, answer, { json, strict: rest.includes('--strict') });
    } catch (error) {
      return refuse(error);
    }
  };
  /** Runs again whenever something beside what was named changes, until it is interrupted. */
  const keepWatching = async (command: Command): Promise<number> => {
    const { words } = readArguments(rest, command);
    await once(command);
    const folders = new Set(words.map((each) => (each.includes('.') ? dirname(each) : each)));
    let timer: NodeJS.Timeout | undefined;
    // What still watched would keep the process from ending.
    const ends = new AbortController();
    for (const folder of folders)
      watch(folder, { recursive: true, signal: ends.signal }, (_, file) => {
        if (!file || !/\.(json|js|glsl|frag|vert|png)$/.test(file)) return;
        clearTimeout(timer);
        timer = setTimeout(() => void once(command), 150);
      });
    await new Promise((resolve) => process.once('SIGINT', resolve));
    clearTimeout(timer);
    ends.abort();
    return 0;
  };
  const run = async (): Promise<number> => {
    if (name === '--version' || name === 'version') {
      say(version());
      return 0;
    }
    if (!name || name === '--help' || name === 'help') {
      say(help());
      return name ? 0 : 2;
    }
    if (!Object.hasOwn(COMMANDS, name))
      throw new Refusal(`There is no command “${name}”; there are ${Object.keys(COMMANDS).join(', ')}.`, 2);
    const command = await COMMANDS[name]!();
    if (rest.includes('--help')) {
      say(`Usage: veil ${command.usage}\n\n${command.summary}\n\n${command.help}`);
      return 0;
    }
    return rest.includes('--watch') ? keepWatching(command) : once(command);
  };

  try {
    return await run();
  } catch (error) {
    return refuse(error);
  }
};
