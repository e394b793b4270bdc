import type { DocumentOf } from './documentKind.ts';
import { material } from './kinds/material.ts';
import { motif } from './kinds/motif.ts';
import { script } from './kinds/script.ts';
import { shader } from './kinds/shader.ts';
import { shared } from './kinds/shared.ts';
import { stage } from './kinds/stage.ts';
import { take } from './kinds/take.ts';
import { texture } from './kinds/texture.ts';

/** Every kind of document a project holds. */
export const DOCUMENT_KINDS = { shader, material, stage, script, motif, texture, take, shared } as const;
export type PartKind = keyof typeof DOCUMENT_KINDS;
export type PartBodies = { readonly [kind in PartKind]: DocumentOf<(typeof DOCUMENT_KINDS)[kind]> };
export const PART_KINDS = Object.keys(DOCUMENT_KINDS) as readonly PartKind[];
