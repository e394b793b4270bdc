import { compileShader } from '#core/compileShader.ts';
import { emptyShader, type ShaderDocument } from '#core/document/shader.ts';
import type { StageDocument } from '#core/document/project.ts';
import type { Type } from '#core/program/types.ts';
import type { Scenery } from '../state/looks.ts';
import type { Session } from '../state/session.svelte.ts';

/** What of the stage is left out, to see what it does. */
export type Without =
  | { readonly kind: 'props'; readonly ids: readonly string[] }
  | { readonly kind: 'material'; readonly id: string }
  | { readonly kind: 'strand'; readonly shader: string; readonly id: string }
  | { readonly kind: 'step'; readonly shader: string; readonly id: string }
  | { readonly kind: 'pass'; readonly pass: PassName }
  | { readonly kind: 'layer'; readonly id: string };

/** What the stage itself lays over surfaces, and a set without it. */
export const PASSES = {
  bloom: (set) => ({ ...set, bloom: { ...set.bloom, intensity: 0 } }),
  shadow: (set) => ({ ...set, lights: set.lights.map(({ shadow: _, ...light }) => light) }),
  air: ({ air: _, ...set }) => set,
  'tone mapping': (set) => ({ ...set, toneMapping: 'none' }),
} as const satisfies Readonly<Record<string, (set: StageDocument) => StageDocument>>;
export type PassName = keyof typeof PASSES;

/** A surface of plain grey plaster, where a material is left out. */
const PLASTER = compileShader({
  ...emptyShader(),
  surface: { ...emptyShader().surface, sides: 'both', outputs: { baseColor: 'vec3(0.5)' } },
}).shader!;

/** Scenery with a shader as another document has it. */
const withShader = (
  session: Session,
  { set, looks, layers }: Scenery,
  id: string,
  change: (body: ShaderDocument) => ShaderDocument,
): Scenery | string => {
  const part = session.part(id);
  if (part?.kind !== 'shader') return 'This shader is not in the project any more.';
  const { shader, diagnostics } = compileShader(change(part.body), part.name, session.library);
  if (!shader) return `Without it the shader does not work: ${diagnostics[0]?.message ?? ''}`;
  const worn = new Set(session.materials.flatMap((each) => (each.body.shader === id ? [each.id] : [])));
  return {
    ...{ set, layers },
    looks: looks.map((look) => (worn.has(look.material) ? { ...look, shader, knobs: shader.knobs } : look)),
  };
};
/** A step that passes on what comes from its left. */
const muting =
  (id: string) =>
  (body: ShaderDocument): ShaderDocument => ({
    ...body,
    strands: body.strands.map((strand) => ({
      ...strand,
      steps: strand.steps.map((step) => (step.id === id ? { ...step, muted: true } : step)),
    })),
  });
/** A strand that is nothing: 0 in each of its numbers. */
const emptied =
  (id: string, type: Type) =>
  (body: ShaderDocument): ShaderDocument => ({
    ...body,
    strands: body.strands.map((strand) =>
      strand.id === id
        ? {
            ...strand,
            steps: [{ id: `${id}-off`, operator: 'value', arguments: { x: NOTHING[type] ?? '0.0' } }],
          }
        : strand,
    ),
  });
const NOTHING: Readonly<Partial<Record<Type, string>>> = {
  ...{ vec2: 'vec2(0.0)', vec3: 'vec3(0.0)', vec4: 'vec4(0.0)', int: '0', uint: '0u', bool: 'false' },
};
const typeOfStrand = (session: Session, shader: string, id: string): Type | null =>
  session.shaders.get(shader)?.good?.program.taps.findLast(({ strand }) => strand === id)?.value.type ?? null;

/** Scenery without something. @returns a sentence where it cannot be left out */
export const leftOut = (session: Session, scenery: Scenery, what: Without): Scenery | string => {
  const { set, looks, layers } = scenery;
  switch (what.kind) {
    case 'props':
      return {
        ...{ looks, layers },
        set: {
          ...set,
          props: set.props.map((each) => (what.ids.includes(each.id) ? { ...each, hidden: true } : each)),
        },
      };
    case 'material':
      return {
        ...{ set, layers },
        looks: looks.map((look) =>
          look.material === what.id
            ? {
                ...look,
                shader: PLASTER,
                knobs: PLASTER.knobs,
                settings: emptyShader().surface,
                parameters: [],
              }
            : look,
        ),
      };
    case 'strand': {
      const type = typeOfStrand(session, what.shader, what.id);
      return type === null
        ? 'This strand has no step that works.'
        : withShader(session, scenery, what.shader, emptied(what.id, type));
    }
    case 'step':
      return withShader(session, scenery, what.shader, muting(what.id));
    case 'pass':
      return { looks, layers, set: PASSES[what.pass](set) };
    case 'layer':
      return {
        ...{ looks, layers },
        set: {
          ...set,
          frame: (set.frame ?? []).map((each) => (each.id === what.id ? { ...each, off: true } : each)),
        },
      };
  }
};

/** What is left out, as a sentence names it. */
export const wordFor = (session: Session, what: Without): string => {
  switch (what.kind) {
    case 'props': {
      const [first] = what.ids;
      const name = session.stage?.body.props.find(({ id }) => id === first)?.name ?? 'a prop';
      return what.ids.length === 1 ? name : `${what.ids.length} props`;
    }
    case 'material':
      return session.part(what.id)?.name ?? 'the material';
    case 'strand':
      return session.document?.strands.find(({ id }) => id === what.id)?.name ?? 'the strand';
    case 'step': {
      const step = session.document?.strands.flatMap(({ steps }) => steps).find(({ id }) => id === what.id);
      return step?.operator ?? 'the step';
    }
    case 'pass':
      return what.pass;
    case 'layer': {
      const layer = session.stage?.body.frame?.find(({ id }) => id === what.id);
      return layer ? (session.part(layer.material)?.name ?? 'the layer') : 'the layer';
    }
  }
};

/** What is in hand, and so is left out while the key is held: a step, props, else the material. */
export const inHand = (session: Session): Without | null => {
  const { tab, selected, props, shader, material, openMotif } = session;
  if (tab === 'strands' && selected !== null && shader && !openMotif)
    return { kind: 'step', shader: shader.id, id: selected };
  if (props.length) return { kind: 'props', ids: props };
  return material ? { kind: 'material', id: material.id } : null;
};

/** All that can be left out of what stands there now, each with its words. */
export const canBeLeftOut = (
  session: Session,
): readonly { readonly what: Without; readonly word: string }[] => {
  const { stage, shader, material, props, selected, openMotif } = session;
  const set = stage?.body;
  const strands = shader && !openMotif ? shader.body.strands : [];
  const all: Without[] = [
    ...(props.length ? [{ kind: 'props' as const, ids: props }] : []),
    ...(material ? [{ kind: 'material' as const, id: material.id }] : []),
    ...(selected !== null && shader && strands.some(({ steps }) => steps.some(({ id }) => id === selected))
      ? [{ kind: 'step' as const, shader: shader.id, id: selected }]
      : []),
    ...strands.map(({ id }) => ({ kind: 'strand' as const, shader: shader!.id, id })),
    ...(set && set.bloom.intensity > 0 ? [{ kind: 'pass' as const, pass: 'bloom' as const }] : []),
    ...(set?.lights[0]?.shadow !== undefined ? [{ kind: 'pass' as const, pass: 'shadow' as const }] : []),
    ...(set?.air ? [{ kind: 'pass' as const, pass: 'air' as const }] : []),
    ...(set && set.toneMapping !== 'none' ? [{ kind: 'pass' as const, pass: 'tone mapping' as const }] : []),
    ...(set?.frame ?? []).flatMap(({ id, off }) => (off ? [] : [{ kind: 'layer' as const, id }])),
  ];
  const KINDS = {
    props: 'prop',
    material: 'material',
    strand: 'strand',
    step: 'step',
    pass: '',
    layer: 'layer',
  };
  return all.map((what) => ({ what, word: `${KINDS[what.kind]} ${wordFor(session, what)}`.trim() }));
};
