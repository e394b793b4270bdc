import { usesOf } from '../../document/uses.ts';
import type { Check, Found } from '../scene.ts';

export const unusedNames: Check = {
  name: 'unused-name',
  title: 'A name that nothing reads',
  why: 'It costs nothing in the picture, but whoever drives the shader turns it and sees no change.',
  of: 'shader',
  look: ({ subjects, scripted }) =>
    subjects.flatMap(({ shader: { id: part, body } }): Found[] => [
      ...body.parameters.flatMap(({ id, name }, at): Found[] =>
        scripted.has(name) || usesOf(body, name).length
          ? []
          : [
              {
                ...{ part, place: { kind: 'parameter', parameter: id } },
                message: `The parameter ${name} is read nowhere, by no script either.`,
                fix: {
                  ...{ label: `Delete ${name}`, part },
                  patches: [{ op: 'remove', path: ['parameters', at] }],
                },
              },
            ],
      ),
      ...body.strands.flatMap(({ id, name }, at): Found[] =>
        usesOf(body, name).some(({ strand }) => strand !== name)
          ? []
          : [
              {
                ...{ part, place: { kind: 'strand', strand: id } },
                message: `Neither the surface nor another strand reads ${name}.`,
                fix: {
                  ...{ label: `Delete strand ${name}`, part },
                  patches: [{ op: 'remove', path: ['strands', at] }],
                },
              },
            ],
      ),
    ]),
};
