import { namedBy } from '#core/images/declareStep.ts';
import { wordsIn } from '#core/images/recipe.ts';
import type { Finding } from '../answer.ts';
import { documentBeside } from '../documents.ts';
import { lineOf, type ReadDocument } from '../readDocument.ts';

/** A texture among the documents beside it: what its steps are made of. */
export const checkTexture = (
  file: string,
  { body, text }: Extract<ReadDocument, { kind: 'texture' }>,
): Finding[] =>
  body.steps.flatMap((step, i) => {
    const missing = (word: string, message: string): Finding => ({
      ...{ severity: 'mistake', file, path: `steps[${i}].words`, message },
      line: lineOf(text, `"${word}"`),
    });
    const textures = wordsIn(step, 'texture').flatMap((word) =>
      documentBeside(file, 'texture', word)
        ? []
        : [missing(word, `There is no texture “${word}” beside this.`)],
    );
    const surfaces = wordsIn(step, 'surface').flatMap((word) => {
      const { id, inner: strand } = namedBy(word);
      const material = documentBeside(file, 'material', id);
      const shader = documentBeside(
        file,
        'shader',
        material?.kind === 'material' ? material.body.shader : id,
      );
      if (shader?.kind !== 'shader')
        return [missing(word, `There is no shader or material “${id}” beside this.`)];
      return strand === undefined || shader.body.strands.some((each) => each.id === strand)
        ? []
        : [missing(word, `The shader “${id}” has no strand with the id “${strand}”.`)];
    });
    const props = wordsIn(step, 'prop').flatMap((word) => {
      const { id, inner: prop } = namedBy(word);
      const set = documentBeside(file, 'stage', id);
      return set?.kind === 'stage' && set.body.props.some((each) => each.id === prop)
        ? []
        : [missing(word, `There is no set “${id}” beside this that has a prop with the id “${prop}”.`)];
    });
    return [...textures, ...surfaces, ...props];
  });
