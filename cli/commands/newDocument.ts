import { starterParts, STARTERS } from '#core/document/starter.ts';
import { Refusal, type Command } from '../command.ts';

const MOTIF = {
  format: 'wicked-veil/motif',
  version: 1,
  description: '',
  parameters: [],
  strands: [
    {
      id: 'strand-1',
      name: 'made',
      note: '',
      steps: [{ id: 'step-1', operator: 'value', arguments: { x: 0.5 } }],
    },
  ],
  outputs: [{ id: 'output-1', name: 'result', expression: 'made' }],
};
const SHARED = { format: 'wicked-veil/shared', version: 1, values: {} };

const starters = (): ReadonlyMap<string, unknown> =>
  new Map<string, unknown>([
    ...starterParts().map(({ kind, body }) => [kind, body] as const),
    ['motif', MOTIF],
    ['texture', STARTERS.texture()],
    ['shared', SHARED],
  ]);

export const newDocument: Command = {
  usage: 'new KIND',
  summary: 'Prints a document to begin with: shader, material, motif, texture, stage, script or shared.',
  help: 'The document passes `veil check` as it is.\n\n  veil new shader > ember.shader.json',
  options: {},
  most: 1,
  run: ({ words: [kind], usage }) => {
    const all = starters();
    const document = all.get(kind ?? '');
    if (!document)
      throw new Refusal(
        `A document is one of ${[...all.keys()].join(', ')}, not “${kind ?? ''}”. Usage: veil ${usage}`,
        2,
      );
    return { result: { document }, findings: [], text: `${JSON.stringify(document, null, 2)}\n` };
  },
};
