import { declarationOf, INPUT_NAMES, REQUIREMENTS } from '../program/inputs.ts';
import { OPERATORS } from '../operators/catalogue.ts';
import { FAMILIES, type Operator } from '../operators/declare.ts';
import { defaultText, typeText } from '../operators/signature.ts';
import type { Cost } from './cost.ts';

const cell = (text: string): string => text.replace(/\|/g, '\\|');

const inputRows = ({ inputs, flow }: Operator): string[] =>
  Object.entries(inputs).map(([name, input]) => {
    const range = input.min === undefined || input.max === undefined ? '' : `${input.min} … ${input.max}`;
    const said = [name === flow ? 'Takes what comes from the left.' : '', input.summary ?? ''];
    const columns = [
      `\`${name}\``,
      cell(typeText(input)),
      cell(defaultText(input)) || '—',
      [range, input.unit ?? ''].filter(Boolean).join(' ') || '—',
      said.filter(Boolean).join(' '),
    ];
    return `| ${columns.join(' | ')} |`;
  });

const section = (each: Operator, cost: Cost): string =>
  [
    `### ${each.name}`,
    '',
    each.summary,
    '',
    ...(Object.keys(each.inputs).length
      ? ['| input | type | default | range | |', '| --- | --- | --- | --- | --- |', ...inputRows(each), '']
      : []),
    ...(each.formula ? [`Formula: ${each.formula}`, ''] : []),
    ...(each.source ? [`Source: ${each.source}`, ''] : []),
    `Cost: about ${Math.round(cost.arithmetic)} operations${cost.textures ? `, ${cost.textures} texture reads` : ''}. Also found as: ${(each.synonyms ?? []).join(', ') || 'its name'}.`,
    '',
    ...(each.example ? ['```glsl', each.example, '```', ''] : []),
  ].join('\n');

/** The reference page, made from the declarations: what each operator takes, computes, costs and is called. */
export const referencePage = (costOf: (name: string) => Cost): string => {
  const all = [...OPERATORS.values()];
  const inputs = INPUT_NAMES.map((name) => {
    const { type, unit, summary, requires } = declarationOf(name);
    return `| \`${name}\` | ${type} | ${unit ?? '—'} | ${summary}${requires ? ` Needs: ${REQUIREMENTS[requires]}` : ''} |`;
  });
  const families = FAMILIES.filter((family) => all.some((each) => each.family === family));
  return `# Operators

Made by \`npm run docs\` from the declarations in \`src/core/operators\`; change those, not this page. \`any\` takes a float,
vec2, vec3 or vec4, and all of an operator's \`any\` inputs are brought to one size. A choice is one of a few words. A cost
counts additions for one pixel, on single numbers, at the first choices. Any operator can be called in an expression, its
inputs in this order.

${families.map((family) => `- [${family}](#${family})`).join('\n')}

## What a shader is given

| name | type | unit | |
| --- | --- | --- | --- |
${inputs.join('\n')}

${families
  .map(
    (family) =>
      `## ${family}\n\n${all
        .filter((each) => each.family === family)
        .map((each) => section(each, costOf(each.name)))
        .join('\n')}`,
  )
  .join('\n')}`;
};
