import { Mesh as MeshObject, type BufferGeometry, type Camera, type WebGLRenderer } from 'three';
import type { CompiledShader } from '#core/compileShader.ts';
import type { StageMaterial } from '../stage.ts';
import { gpuDone } from '../gpuDone.ts';
import type { Lights } from './lights.ts';
import { createPropMaterial, type PropMaterial } from './propMaterial.ts';

/** A driver counts the lines that three set before our source; ours begins with its version, then this line. */
const SECOND_LINE = 'precision highp float;';
const inOurLines = (drawn: string | null, log: string | null): string | null => {
  const before = (drawn ?? '').split('\n').indexOf(SECOND_LINE) - 1;
  return log?.replace(/ERROR: 0:(\d+)/g, (_, line: string) => `ERROR: 0:${Number(line) - before}`) ?? null;
};

/** What of a material’s shader and settings the graphics card sees. */
const sourceOf = ({ shader, settings }: StageMaterial): string =>
  [shader.live.vertex, shader.live.fragment, JSON.stringify(settings)].join('\n//\n');

export interface ProgramEvents {
  readonly onRefused: (material: string, shader: CompiledShader, log: string | null) => void;
  /** A material is drawn by another program from now on; `isFirst` where it had none before. */
  readonly onLinked: (material: string, isFirst: boolean) => void;
  readonly onCount: (links: number) => void;
}

/**
 * Keeps the program of each material: links without waiting, out of sight; one that is refused is dropped, the last
 * good one stays, and it is not tried again until its source is another.
 */
export const createPrograms = (
  renderer: WebGLRenderer,
  camera: Camera,
  lights: Lights,
  probe: () => BufferGeometry,
  events: ProgramEvents,
) => {
  const materials = new Map<string, PropMaterial>();
  /** What each material's program is made of, and what was tried last, linked or refused. */
  const sources = new Map<string, string>();
  const tried = new Map<string, string>();
  /** What was asked for last: it may change while a program of the same source is being linked. */
  const newest = new Map<string, StageMaterial>();
  const linking = new Map<string, { readonly made: PropMaterial; readonly done: Promise<void> }>();
  /** Freed after the next draw: until its follower has been drawn, a program they share would be linked again. */
  const retired: PropMaterial[] = [];
  let awaitsMore = false;
  let links = 0;
  let disposed = false;
  /** What the driver said of the program being looked at, where it refused it. */
  let refusal: string | null = null;
  renderer.debug.onShaderError = (gl, program, vertex, fragment) => {
    const log = [
      gl.getShaderInfoLog(vertex),
      inOurLines(gl.getShaderSource(fragment), gl.getShaderInfoLog(fragment)),
      gl.getProgramInfoLog(program),
    ];
    refusal = log.filter(Boolean).join(' ').trim() || 'it gave no reason';
  };

  const adopt = (id: string, made: PropMaterial): void => {
    const before = materials.get(id);
    materials.set(id, made);
    if (before) retired.push(before);
  };
  /** Takes a linked program, or drops one that was refused. */
  const settle = (id: string, made: PropMaterial): void => {
    linking.delete(id);
    refusal = null;
    // Reading its uniforms looks at the link's result, and tells a refusal from a success.
    const { currentProgram } = renderer.properties.get(made.surface) as {
      readonly currentProgram?: { readonly getUniforms: () => unknown };
    };
    currentProgram?.getUniforms();
    const isFirst = !materials.has(id);
    if (refusal !== null) made.dispose();
    else {
      adopt(id, made);
      sources.set(id, tried.get(id)!);
      follow(id);
    }
    events.onRefused(id, made.shader, refusal);
    if (refusal === null) events.onLinked(id, isFirst);
  };
  /** Same source, other document: its layout or knobs may differ, the GPU's program does not. */
  const follow = (id: string): void => {
    const material = newest.get(id)!;
    if (materials.get(id)!.shader !== material.shader)
      adopt(id, createPropMaterial(material.shader, material.settings, lights));
  };
  const drop = (id: string): void => {
    linking.get(id)?.made.dispose();
    linking.delete(id);
  };
  const link = (id: string, wanted: StageMaterial): void => {
    const made = createPropMaterial(wanted.shader, wanted.settings, lights);
    const object = new MeshObject(probe(), made.surface);
    object.frustumCulled = false;
    links += 1;
    events.onCount(links);
    drop(id);
    const gl = renderer.getContext() as WebGL2RenderingContext;
    // Where the driver cannot be asked whether it has linked, a look at the program would wait for it.
    const ready = renderer.compileAsync(object, camera).then(() => gpuDone(gl, () => disposed));
    const done = ready.then(() => {
      if (disposed || linking.get(id)?.made !== made) return;
      settle(id, made);
    });
    linking.set(id, { made, done });
  };

  return {
    get: (id: string): PropMaterial | undefined => materials.get(id),
    entries: (): Iterable<readonly [string, PropMaterial]> => materials,
    /** Keeps programs for these materials, and lets go of all others. @param awaits whether more are on their way */
    sync: (wanted: ReadonlyMap<string, StageMaterial>, awaits = false): void => {
      awaitsMore = awaits;
      for (const [id, material] of wanted) {
        const source = sourceOf(material);
        newest.set(id, material);
        const isNew = tried.get(id) !== source;
        tried.set(id, source);
        if (isNew && sources.get(id) !== source) {
          link(id, material);
          continue;
        }
        // Back to what is linked already: what was on its way is not wanted any more.
        if (isNew) drop(id);
        if (sources.get(id) === source) follow(id);
      }
      for (const id of [...tried.keys()])
        if (!wanted.has(id)) {
          tried.delete(id);
          sources.delete(id);
          newest.delete(id);
          drop(id);
          const gone = materials.get(id);
          if (gone) retired.push(gone);
          materials.delete(id);
        }
    },
    isLinking: (): boolean => linking.size > 0,
    isEmpty: (): boolean => materials.size === 0,
    /** Whether all that is wanted of materials, and there are some, has its program. */
    isComplete: (): boolean => !awaitsMore && linking.size === 0 && materials.size > 0,
    /** Resolves once nothing is being linked, or nobody takes it in any more. */
    settled: async (): Promise<void> => {
      while (linking.size && !disposed) await Promise.all([...linking.values()].map(({ done }) => done));
    },
    count: (): number => links,
    afterDraw: (): void => {
      for (const material of retired.splice(0)) material.dispose();
    },
    /** Stops. What it gives back holds its programs, until it is disposed of: who comes next may have the same. */
    leave: (): readonly PropMaterial[] => {
      disposed = true;
      for (const { made } of linking.values()) made.dispose();
      return [...materials.values(), ...retired];
    },
  };
};
