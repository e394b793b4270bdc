import { bake } from './commands/bake.ts';
import { check } from './commands/check.ts';
import { compile } from './commands/compile.ts';
import { evaluate } from './commands/evaluate.ts';
import { importGlsl } from './commands/importGlsl.ts';
import { operators } from './commands/operators.ts';
import { Refusal, type Command } from './command.ts';

const COMMANDS: Readonly<Record<string, Command>> = {
  check,
  compile,
  evaluate,
  bake,
  operators,
  import: importGlsl,
};

const HELP = `veil: shaders from a terminal or a game's build, with no browser and no database.

${Object.entries(COMMANDS)
  .map(([name, { usage, summary }]) => `  ${`veil ${usage || name}`.padEnd(74)}\n      ${summary}`)
  .join('\n')}

Every command takes --help, and --json for answers that programs read. Errors go to standard error.
It ends with 0 when all is well, 1 when a file has mistakes, 2 when it was called wrongly.`;

// A reader that has seen enough, such as head, is no mistake.
process.stdout.on('error', (error: NodeJS.ErrnoException) => {
  if (error.code !== 'EPIPE') throw error;
  process.exit(0);
});

const [name, ...rest] = process.argv.slice(2);
const asJson = rest.includes('--json');

const run = async (): Promise<number> => {
  if (!name || name === '--help' || name === 'help') {
    console.log(HELP);
    return name ? 0 : 2;
  }
  const command = Object.hasOwn(COMMANDS, name) ? COMMANDS[name]! : null;
  if (!command)
    throw new Refusal(`There is no command “${name}”; there are ${Object.keys(COMMANDS).join(', ')}.`, 2);
  if (rest.includes('--help')) {
    console.log(`veil ${command.usage}\n\n${command.summary}\n\n${command.help}`);
    return 0;
  }
  return command.run(rest);
};

try {
  process.exitCode = await run();
} catch (error) {
  const refusal = error instanceof Refusal ? error : null;
  const message = refusal?.message ?? (error instanceof Error ? error.message : String(error));
  console.error(
    asJson ? JSON.stringify({ error: message, problems: refusal?.problems ?? [] }, null, 2) : message,
  );
  process.exitCode = refusal?.code ?? 1;
}
