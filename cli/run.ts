import { Command, CommanderError } from 'commander';
import { CoreError, sentenceOf } from '../core/errors';
import { CLI_COMMANDS } from './list';
import { UsageError, type Terminal, type Values } from './options';

const MORE = `
Several models or projects, and folders of them, are worked on on all cores. What was made from the same inputs before is left
alone, so a run that was stopped goes on where it was.

A model is a GLB, glTF, OBJ, PLY or STL file. Exit codes: 0 done, 1 the job failed, 2 bad use or bad input.
“zanahoria help COMMAND” tells of one.`;

/** @returns the exit code: 0 done, 1 the job failed, 2 bad use or bad input */
export async function run(args: readonly string[], terminal: Terminal): Promise<number> {
  let code = 0;
  const program = new Command('zanahoria')
    .description('Paint with light built in, from the command line.')
    .addHelpText('after', MORE)
    .exitOverride()
    // What is wrong is told once, below.
    .configureOutput({ writeOut: terminal.out, writeErr: () => undefined })
    .helpOption('-h, --help', 'tell of this')
    .helpCommand('help [command]', 'tell of a command');
  for (const { name, takes, does, options, more, run: work } of CLI_COMMANDS) {
    const command = program
      .command(name)
      .copyInheritedSettings(program)
      .argument(takes)
      .description(does)
      .option('--json', 'print JSON on one line')
      .addHelpText('after', more ?? '')
      .action(async (named: string | string[], values: Values) => {
        const files = [named].flat() as [string, ...string[]];
        code = (await work(files, values, terminal)) ?? 0;
      });
    for (const each of options) command.addOption(each);
  }
  try {
    if (args.length === 0) {
      terminal.out(program.helpInformation());
      return 2;
    }
    await program.parseAsync([...args], { from: 'user' });
    return code;
  } catch (error) {
    if (error instanceof CommanderError && error.exitCode === 0) return 0;
    terminal.error(`zanahoria: ${sentence(error).replace(/\s*\n\s*/g, ' ')}\n`);
    const isUse =
      error instanceof UsageError || error instanceof CoreError || error instanceof CommanderError;
    return isUse ? 2 : 1;
  }
}

/** What the reader of options says, in our words where they are clearer. */
function sentence(error: unknown): string {
  if (!(error instanceof CommanderError)) return sentenceOf(error);
  const said = error.message.replace(/^error: /, '');
  const unknown = /^unknown command '(.*)'/.exec(said)?.[1];
  if (unknown !== undefined) {
    const names = CLI_COMMANDS.map(({ name }) => name);
    return `There is no command “${unknown}”. Use ${names.slice(0, -1).join(', ')} or ${names.at(-1)}; --help tells more.`;
  }
  if (error.code === 'commander.missingArgument') return 'Name the model file. --help tells more.';
  return `${said[0]!.toUpperCase()}${said.slice(1).replace(/\.?$/, '.')} --help tells more.`;
}
