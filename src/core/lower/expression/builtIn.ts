import type { Builder } from '../../program/builder.ts';
import type { Span } from '../../language/mistake.ts';
import type { GlslValue } from './glslValue.ts';

/** Lowers one call of a function of GLSL's own. */
export type BuiltIn = (b: Builder, args: readonly GlslValue[], at: Span) => GlslValue;
