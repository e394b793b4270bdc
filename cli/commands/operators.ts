import { costOf } from '#core/analyse/operatorCost.ts';
import { OPERATORS } from '#core/operators/catalogue.ts';
import { signatureText } from '#core/operators/signature.ts';
import { readArguments, type Command } from '../command.ts';

const USAGE = 'operators [--json]';

export const operators: Command = {
  usage: USAGE,
  summary: 'Lists every operator: its signature, its cost and what it does.',
  help: 'With --json everything that is known of them: inputs, types, defaults, ranges, units, formulas, sources, synonyms.',
  run: (args) => {
    const { values } = readArguments(args, USAGE, {});
    const all = [...OPERATORS.values()];
    if (values['json']) {
      console.log(
        JSON.stringify(
          all.map(({ lower: _, ...told }) => ({ ...told, cost: costOf(told.name) })),
          null,
          2,
        ),
      );
      return 0;
    }
    let family = '';
    for (const each of all) {
      if (each.family !== family) console.log(`\n${(family = each.family)}`);
      console.log(`  ${signatureText(each)}\n      ${each.summary}`);
    }
    return 0;
  },
};
