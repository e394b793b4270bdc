import { INPUTS } from '../program/inputs.ts';

/** GLSL ES 3.00's keywords and those it keeps for later (specification, section 3.8). */
const GLSL_WORDS =
  'attribute const uniform varying layout centroid flat smooth break continue do for while switch case default if else in out inout float int void bool true false invariant discard return mat2 mat3 mat4 mat2x2 mat2x3 mat2x4 mat3x2 mat3x3 mat3x4 mat4x2 mat4x3 mat4x4 vec2 vec3 vec4 ivec2 ivec3 ivec4 bvec2 bvec3 bvec4 uint uvec2 uvec3 uvec4 lowp mediump highp precision sampler2D sampler3D samplerCube sampler2DShadow samplerCubeShadow sampler2DArray sampler2DArrayShadow isampler2D isampler3D isamplerCube isampler2DArray usampler2D usampler3D usamplerCube usampler2DArray struct coherent volatile restrict readonly writeonly resource atomic_uint noperspective patch sample subroutine common partition active asm class union enum typedef template this goto inline noinline volatile public static extern external interface long short double half fixed unsigned superp input output hvec2 hvec3 hvec4 dvec2 dvec3 dvec4 fvec2 fvec3 fvec4 filter image1D image2D image3D imageCube sizeof cast namespace using main';

/** WGSL's keywords and those it keeps for later (specification, section 15.1), where GLSL has them not. */
const WGSL_WORDS =
  'alias diagnostic enable fn let loop override requires var NULL Self abstract alignas alignof as asm_fragment async attribute auto await become catch co_await co_return co_yield column_major compile compile_fragment concept const_cast consteval constexpr constinit crate debugger decltype delete demote demote_to_helper do dynamic_cast explicit export extends final finally friend from fxgroup get groupshared impl implements import instanceof interface layout macro macro_rules match meta mod module move mut mutable namespace new nil noexcept nointerpolation non_coherent noncoherent null nullptr of operator package packoffset pass pixelfragment precise precision premerge priv private protected pub ref regardless register reinterpret_cast require self set shared snorm static_assert static_cast std super target thread_local throw trait try type typeid typename typeof unless unorm unsafe unsized use virtual wgsl where with writeonly yield array atomic bitcast';

/** Names that generated source uses for itself. */
const EMITTED =
  'fragColor tap shown picture live liveInt placed color baseColor opacity emission metallic roughness occlusion vertexOffset lightSurface lightCount lightPosition lightColor ambientUp ambientDown modelMatrix viewMatrix projectionMatrix unit power quotient remainder i surface prototype constructor lifetime resolution main given parameters lights';

/** Names GLSL itself gives to functions; operators add theirs. */
const GLSL_FUNCTIONS =
  'radians degrees sin cos tan asin acos atan sinh cosh tanh asinh acosh atanh pow exp log exp2 log2 sqrt inversesqrt abs sign floor trunc round roundEven ceil fract mod modf min max clamp mix step smoothstep isnan isinf floatBitsToInt floatBitsToUint intBitsToFloat uintBitsToFloat length distance dot cross normalize faceforward reflect refract matrixCompMult outerProduct transpose determinant inverse lessThan lessThanEqual greaterThan greaterThanEqual equal notEqual any all not texture textureSize textureLod textureOffset texelFetch textureGrad textureProj dFdx dFdy fwidth';

export const KEPT_BY_WGSL: ReadonlySet<string> = new Set(WGSL_WORDS.split(' '));

/** Words of GLSL and functions that generated source defines: nothing in it may be called so. */
export const KEPT_BY_GLSL: ReadonlySet<string> = new Set([
  ...GLSL_WORDS.split(' '),
  ...GLSL_FUNCTIONS.split(' '),
  ...['unit', 'power', 'quotient', 'remainder', 'whole', 'wholeU', 'main'],
]);

/** Names that stand at the top of generated source. */
export const TOP_NAMES: ReadonlySet<string> = new Set([...EMITTED.split(' '), ...Object.keys(INPUTS)]);

const isTaken = (name: string): boolean => KEPT_BY_GLSL.has(name) || TOP_NAMES.has(name);

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
  if (KEPT_BY_WGSL.has(name)) return `“${name}” is a word that WGSL keeps for itself; choose another name.`;
  if (operators.has(name)) return `“${name}” is an operator; choose another name.`;
  return null;
};
