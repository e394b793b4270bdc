import type { Argument } from './declareStep.ts';
import { IMAGE_STEPS } from './imageSteps.ts';

const told = (name: string, argument: Argument): string => {
  switch (argument.kind) {
    case 'number':
      return `\`${name}\` ${argument.start}${argument.unit ? ` ${argument.unit}` : ''}, ${argument.least} to ${argument.most}: ${argument.about}`;
    case 'numbers':
      return `\`${name}\` ${argument.start.join(', ')}${argument.unit ? ` ${argument.unit}` : ''}: ${argument.about}`;
    case 'choice':
      return `\`${name}\` ${argument.options.join(', ')}: ${argument.about}`;
    default:
      return `\`${name}\` (${argument.kind}): ${argument.about}`;
  }
};

/** The page on image steps. */
export const stepsPage = (): string => `# Textures

Made by \`npm run docs\` from the steps themselves.

A texture is a row of image steps: the first makes or brings a picture, the others change it. Numbers are linear; lengths are in pixels of
the whole texture, and a smaller one shows the same. The same recipe gives the same numbers everywhere.

| step | what | told |
| --- | --- | --- |
${[...IMAGE_STEPS.values()]
  .map(
    ({ name, summary, isSource, arguments: given, from }) =>
      `| \`${name}\` | ${summary}${isSource ? ' Begins a texture.' : ''}${from ? ` Source: ${from}.` : ''} | ${Object.entries(
        given,
      )
        .map(([each, argument]: [string, Argument]) => told(each, argument))
        .join('<br>')} |`,
  )
  .join('\n')}
`;
