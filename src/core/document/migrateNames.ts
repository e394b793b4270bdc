import { nameProblem } from '../language/names/reserved.ts';
import { OPERATOR_NAMES } from '../operators/catalogue.ts';
import { renameEverywhere, type Readable } from './uses.ts';

/**
 * Names that were free when a document was made and have since become an operator's or a language's get a figure at
 * their end, wherever they stand: no document is lost to a new word.
 */
export const freeTakenNames = <D extends Readable>(shader: D): D => {
  const all = [...shader.parameters, ...shader.strands];
  const taken = new Set(all.map((each) => each.name));
  let document = shader;
  for (const { name } of all) {
    if (!/^[A-Za-z_]\w*$/.test(name) || !nameProblem(name, OPERATOR_NAMES)) continue;
    let n = 2;
    while (taken.has(`${name}${n}`) || nameProblem(`${name}${n}`, OPERATOR_NAMES)) {
      n += 1;
      if (n > 99) break;
    }
    taken.add(`${name}${n}`);
    document = renameEverywhere(document, name, `${name}${n}`);
  }
  return document;
};
