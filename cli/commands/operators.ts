import { costOf } from '#core/analyse/operatorCost.ts';
import { OPERATORS } from '#core/operators/catalogue.ts';
import { signatureText } from '#core/operators/signature.ts';
import type { Command } from '../command.ts';

export const operators: Command = {
  usage: 'operators',
  summary: 'Lists every operator: its signature, its cost and what it does.',
  help: 'With --json everything that is known of them: inputs, types, defaults, ranges, units, formulas, sources, synonyms.',
  options: {},
  most: 0,
  run: () => {
    const all = [...OPERATORS.values()];
    const lines: string[] = [];
    let family = '';
    for (const each of all) {
      if (each.family !== family) lines.push(`\n${(family = each.family)}`);
      lines.push(`  ${signatureText(each)}\n      ${each.summary}`);
    }
    const told = all.map(({ lower: _, doubt: __, ...known }) => ({ ...known, cost: costOf(known.name) }));
    return { result: { operators: told }, findings: [], text: `${lines.join('\n')}\n` };
  },
};
