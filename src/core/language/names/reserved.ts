import { GLSL_TOP_NAMES } from './glslNames.ts';
import { WGSL_TOP_NAMES } from './wgslNames.ts';
import { GLSL_FUNCTIONS, GLSL_KEYWORDS, WGSL_FUNCTIONS, WGSL_KEYWORDS } from './keywords.ts';

/** Names that JavaScript, in bindings and scripts, trips over. */
const KEPT_BY_OBJECTS: ReadonlySet<string> = new Set(['prototype', 'constructor']);

const GLSL_OWN: ReadonlySet<string> = new Set(GLSL_TOP_NAMES);
const WGSL_OWN: ReadonlySet<string> = new Set(WGSL_TOP_NAMES);

const isTaken = (name: string): boolean =>
  GLSL_KEYWORDS.has(name) || GLSL_FUNCTIONS.has(name) || GLSL_OWN.has(name) || KEPT_BY_OBJECTS.has(name);
const isKeptByWgsl = (name: string): boolean =>
  WGSL_KEYWORDS.has(name) || WGSL_FUNCTIONS.has(name) || WGSL_OWN.has(name);

export const LONGEST_NAME = 64;

/** Says what is wrong with a name for a strand or a parameter, or null when it will do. */
export const nameProblem = (name: string, operators: ReadonlySet<string>): string | null => {
  if (name.trim() === '') return 'It needs a name.';
  if (name.length > LONGEST_NAME)
    return `The name has ${name.length} characters; at most ${LONGEST_NAME} are allowed.`;
  if (!/^[A-Za-z_][A-Za-z0-9_]*$/.test(name))
    return `“${name}” cannot be a name in GLSL: use the letters a–z, digits and _, beginning with a letter.`;
  if (/^[av]_/.test(name)) return `“${name}”: names that begin with a_ or v_ are the mesh’s; choose another.`;
  if (name.includes('__') || name.startsWith('gl_'))
    return `“${name}” is kept by GLSL: names may not contain two underscores in a row or begin with gl_.`;
  if (isTaken(name)) return `“${name}” is taken by GLSL or by the surface; choose another name.`;
  if (isKeptByWgsl(name)) return `“${name}” is a word that WGSL keeps for itself; choose another name.`;
  if (operators.has(name)) return `“${name}” is an operator; choose another name.`;
  return null;
};
