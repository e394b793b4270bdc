/** What a shader is made of, in one place for those that read it. */
export * from './parameterKinds.ts';
export { type Argument, type Score, type Step, type Strand } from './score.ts';
export { type Parameter } from './parameter.ts';
export * from './surface.ts';
export { emptyShader, SHADER_VERSION, type ShaderDocument } from './kinds/shader.ts';
