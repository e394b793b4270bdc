/** The types a value in the program can have: GLSL's, less those no step can make. */
export type Scalar = 'float' | 'int' | 'uint' | 'bool';
export type Vector = 'vec2' | 'vec3' | 'vec4';
/** A texture and how it is read: a picture, or a volume. */
export type Sampler = 'sampler2D' | 'sampler3D';
export type Type = Scalar | Vector | 'mat3' | Sampler;

export const TYPES: readonly Type[] = [
  'float',
  'int',
  'uint',
  'bool',
  'vec2',
  'vec3',
  'vec4',
  'mat3',
  'sampler2D',
  'sampler3D',
];

const COMPONENTS: Readonly<Record<Type, number>> = {
  float: 1,
  int: 1,
  uint: 1,
  bool: 1,
  vec2: 2,
  vec3: 3,
  vec4: 4,
  mat3: 9,
  sampler2D: 1,
  sampler3D: 1,
};

/** How many numbers one value of the type holds. */
export const componentsOf = (type: Type): number => COMPONENTS[type];

/** The scalar a type is made of: float for every vector and matrix. */
export const baseOf = (type: Type): Scalar =>
  type === 'int' || type === 'uint' || type === 'bool' ? type : 'float';

/** A place on each kind of sampler. */
export const PLACE_ON: Readonly<Record<Sampler, Vector>> = { sampler2D: 'vec2', sampler3D: 'vec3' };
export const isSampler = (type: Type): type is Sampler => type === 'sampler2D' || type === 'sampler3D';
export const isScalar = (type: Type): boolean => componentsOf(type) === 1 && !isSampler(type);
export const isVector = (type: Type): type is Vector => type === 'vec2' || type === 'vec3' || type === 'vec4';
/** float, vec2, vec3 or vec4: what most operators work on. */
export const isFloating = (type: Type): boolean => type === 'float' || isVector(type);

/** The float type with n components, n from 1 to 4. */
export const floatType = (n: number): Type =>
  n === 1 ? 'float' : n === 2 ? 'vec2' : n === 3 ? 'vec3' : 'vec4';
