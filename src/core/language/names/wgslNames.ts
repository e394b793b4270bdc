const VECTORS = ['', '2', '3', '4'];

/** Functions that generated WGSL defines for what the language lacks or leaves open: one for each type. */
export const DEFINITIONS: readonly string[] = [
  ...['unit', 'power', 'modulo', 'smoothRise'].flatMap((name) => VECTORS.map((size) => name + size)),
  ...['quotient', 'quotientU', 'remainder', 'remainderU', 'isNan', 'mirrored', 'texelAt'],
];

/** What stands at the top of a generated module besides what its author named. */
export const WGSL_TOP_NAMES: readonly string[] = [
  ...DEFINITIONS,
  ...['nanBits', 'infinityBits', 'given', 'parameters', 'lights', 'lightSurface', 'moved', 'screenOf'],
  ...['Mesh', 'Varying', 'Given', 'Parameters', 'Lights', 'vertexMain', 'fragmentMain'],
];

/** Variables of the stages’ own, inside their functions. */
export const WGSL_LOCALS: readonly string[] = [
  ...['mesh', 'carried', 'frontFacing', 'out', 'placed', 'offset', 'alongU', 'alongV', 'sideways', 'at'],
];
