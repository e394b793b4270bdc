import { untrack } from 'svelte';
import type { Finding } from '#core/analyse/scene.ts';
import type { Kept } from '#core/analyse/guarantees.ts';
import type { ShaderCost } from '#core/analyse/shaderCost.ts';
import { requirementsOf } from '#core/analyse/requirements.ts';
import { shareOf } from '#core/analyse/shaderCost.ts';
import type { PartOf, Prop } from '#core/document/project.ts';
import type { Given } from '#core/evaluate/points/onMesh.ts';
import { budgetOf, budgetsOf } from '#core/edits/checkEdits.ts';
import { broughtFor } from '#core/meshes/makeMesh.ts';
import type { CheckAsk, FromChecker, ToChecker, WornHere } from '#workers/check.worker.ts';
import type { PinWatch } from '../pins/watchPins.svelte.ts';
import type { Rehearsal } from '../rehearsal.svelte.ts';
import type { Session } from '../state/session.svelte.ts';

/** How long nothing may change before it is looked at: at once where the answer is waited for. */
const QUIET_MS = { waited: 150, else: 1500 };
/** What has not arrived yet is asked for again, so often. */
const AGAIN_MS = 1500;
const MOST_AGAIN = 20;
const MOST_RESTARTS = 3;

export type FoundHere = Finding & { readonly answeredIn: string };

/** Numbers for objects: the same one for the same object. */
const numbered = () => {
  const known = new WeakMap<object, number>();
  let next = 0;
  return (thing: object): { readonly id: number; readonly isNew: boolean } => {
    const id = known.get(thing);
    if (id !== undefined) return { id, isNew: false };
    known.set(thing, (next += 1));
    return { id: next, isNew: true };
  };
};

/** One that a project left with nothing to do, for the next: its code is warm, and it has forgotten what it was brought. */
let resting: Worker | null = null;
const takeWorker = (): Worker => {
  const taken = resting;
  resting = null;
  return (
    taken ?? new Worker(new URL('../../../workers/check.worker.ts', import.meta.url), { type: 'module' })
  );
};
const leaveWorker = (worker: Worker): void => {
  resting?.terminate();
  resting = worker;
  [worker.onmessage, worker.onerror] = [null, null];
  worker.postMessage({ type: 'forget' } satisfies ToChecker);
};

/** Follows the open set and what is worn on it with the checks, in a worker: what is found, kept, and what it costs. */
export const createChecking = (session: Session, pins: PinWatch, rehearsal: Rehearsal) => {
  let found = $state.raw<readonly FoundHere[]>([]);
  let kept = $state.raw<ReadonlyMap<string, readonly Kept[]>>(new Map());
  let costs = $state.raw<ReadonlyMap<string, ShaderCost>>(new Map());
  let refusal = $state<string | null>(null);
  /** The newest version asked for, and the newest answered; nothing is known before the first. */
  let asked = $state(0);
  let answered = $state(0);
  /** The set that was asked about last, and the one that the answer is of. */
  let askedOf: string | null = null;
  let answeredOf = $state<string | null>(null);
  let worker: Worker | null = null;
  let things = numbered();
  const bodies = numbered();
  let timer: ReturnType<typeof setTimeout> | undefined;
  /** True while something changed and was not looked at yet. */
  let due = $state(true);
  let again = 0;
  let restarts = 0;

  const receive = ({ data }: MessageEvent<FromChecker>): void => {
    if (data.version < asked && data.type !== 'costs') return;
    if (data.type === 'costs') costs = new Map(data.costs);
    else {
      answered = data.version;
      answeredOf = askedOf;
      if (data.type === 'broken') refusal = `The checks stopped: ${data.why}.`;
      else {
        refusal = null;
        found = data.found;
        kept = new Map(data.kept);
      }
    }
  };
  const start = (): Worker => {
    const made = takeWorker();
    made.onmessage = receive;
    made.onerror = (event) => {
      event.preventDefault();
      made.terminate();
      worker = null;
      // It has forgotten what it was brought.
      things = numbered();
      restarts += 1;
      if (restarts > MOST_RESTARTS) refusal = `The checks stopped: ${event.message}.`;
      else later();
    };
    return made;
  };
  const send = (message: ToChecker): void => (worker ??= start()).postMessage(message);
  const bring = (thing: Parameters<typeof things>[0] & (object | Given)): number => {
    const { id, isNew } = things(thing);
    if (isNew) send({ type: 'bring', id, thing: thing as never });
    return id;
  };

  /** One prop for each mesh and material: what is the same is not looked at twice. */
  const propsOf = (set: PartOf<'stage'>, materials: ReadonlySet<string>): readonly Prop[] => {
    const seen = new Set<string>();
    return set.body.props.filter((prop) => {
      const key = JSON.stringify([prop.material, prop.mesh, prop.parent]);
      if (!materials.has(prop.material) || seen.has(key)) return false;
      seen.add(key);
      return true;
    });
  };
  let isWaiting = false;
  const wornOn = (set: PartOf<'stage'> | null, shader: PartOf<'shader'>): readonly WornHere[] => {
    if (!set) return [];
    const materials = session.materials.filter((each) => each.body.shader === shader.id);
    const textures = shader.body.parameters.filter(({ kind }) => kind === 'texture');
    const program = session.shaders.get(shader.id)?.good?.program;
    const asksNear = program !== undefined && requirementsOf(program).includes('surfaceDistance');
    return propsOf(set, new Set(materials.map(({ id }) => id))).map((prop): WornHere => {
      const needsMesh = broughtFor(prop.mesh) !== null;
      const there = needsMesh || textures.length || asksNear ? pins.standingOf(prop.id) : null;
      const near = asksNear ? there?.standing.near : undefined;
      // Distances that are not baked yet are asked for again; without them what reads them is not judged.
      if (asksNear && !near) isWaiting = true;
      const pictures = textures.flatMap(({ id, name }) => {
        const picture = there?.given.pictures?.get(name);
        const named = materials.find((each) => each.id === prop.material)?.body.pictures?.[id];
        if (named && (!picture || picture.width < 2)) isWaiting = true;
        return picture ? [[name, bring(picture)] as const] : [];
      });
      if (needsMesh && !there) isWaiting = true;
      return {
        ...{ material: prop.material, prop: prop.id, pictures },
        mesh: needsMesh && there ? bring(there.standing.mesh) : null,
        ...(near && { near: near.map(({ volume, toMesh }) => [bring(volume), Array.from(toMesh)] as const) }),
      };
    });
  };
  const askNow = (): CheckAsk => {
    const { stage: set, shared, openMotif } = session;
    const worn = new Set(set?.body.props.map(({ material }) => material));
    for (const { material, off } of set?.body.frame ?? []) if (!off) worn.add(material);
    const ids = new Set(session.materials.flatMap(({ id, body }) => (worn.has(id) ? [body.shader] : [])));
    if (session.shader) ids.add(session.shader.id);
    const shaders = [...ids].flatMap((id) => {
      const part = session.part(id);
      return part?.kind === 'shader' ? [part] : [];
    });
    // Where props stand, and all they are given, decides what is measured.
    const around = [
      ...[...session.library.values()].map(({ body }) => bodies(body).id),
      JSON.stringify([set?.body.props, set?.body.camera, shared?.body.values]),
    ].join();
    return {
      version: asked,
      shaders: shaders.map((part) => {
        const here = wornOn(set, part);
        const values = session.materials.filter((each) => each.body.shader === part.id);
        const { strands, surface, parameters } = part.body;
        const key = [
          ...[strands, surface, parameters].map((each) => bodies(each).id),
          ...values.map(({ body }) => bodies(body).id),
          ...[around, JSON.stringify(here)],
        ].join(' ');
        return { part, key, worn: here };
      }),
      motifs: [...session.library.values()].map(({ id, name, body }) => ({ id, name, body })),
      open: openMotif && { motif: openMotif.id, key: around },
      materials: [...session.materials],
      textures: [...session.textures],
      ...{ shared: shared?.body.values ?? {}, set, scripts: [...session.scripts] },
      played: session.played.map(({ id }) => id),
      ...{ budgets: budgetsOf(shared), budget: budgetOf(shared).name },
    };
  };
  const look = (): void => {
    timer = undefined;
    if (rehearsal.running || session.isCompiling) return later();
    isWaiting = false;
    due = false;
    asked += 1;
    askedOf = session.stage?.id ?? null;
    send({ type: 'look', ask: askNow() });
    if (!isWaiting || again >= MOST_AGAIN) return;
    again += 1;
    timer = setTimeout(look, AGAIN_MS);
  };
  const later = (): void => {
    due = true;
    if (timer !== undefined) clearTimeout(timer);
    timer = setTimeout(
      look,
      session.tab === 'checks' || session.shown.kind === 'cost' ? QUIET_MS.waited : QUIET_MS.else,
    );
  };

  $effect(() => {
    void [session.parts, session.stage, session.shader, session.tab, rehearsal.running];
    void [session.openMotif, session.isCompiling, session.played, session.shown.kind === 'cost'];
    untrack(() => {
      again = 0;
      later();
    });
  });

  /** What is said of another set says nothing of this one. */
  const isKnown = $derived(answered > 0 && answeredOf === (session.stage?.id ?? null));
  const here = $derived(isKnown ? found : []);
  const open = $derived(here.filter(({ note }) => note === null));
  const cost = $derived((session.shader && costs.get(session.shader.id)) ?? null);
  const budget = $derived(budgetOf(session.shared));
  /** What a pixel of each material takes, as a share of the budget's operations. */
  const byMaterial = $derived(
    new Map(
      session.materials.flatMap(({ id, body }) => {
        const found = costs.get(body.shader);
        return found ? [[id, found.operations / budget.operations] as const] : [];
      }),
    ),
  );
  return {
    /** What is found and not answered. */
    get open() {
      return open;
    },
    /** What an author has answered. */
    get answered() {
      return here.filter(({ note }) => note !== null);
    },
    /** What became of the guarantees of the shader in hand. */
    get kept(): readonly Kept[] {
      return (session.shader && kept.get(session.shader.id)) ?? [];
    },
    /** Guarantees of what stands on the set that do not hold. */
    get broken() {
      return (isKnown ? [...kept.values()] : []).flat().filter(({ holds }) => holds === false).length;
    },
    get cost() {
      return cost;
    },
    get byMaterial(): ReadonlyMap<string, number> {
      return byMaterial;
    },
    get budget() {
      return budget;
    },
    /** How much of the budget the shader in hand takes; null before it is known. */
    get share() {
      return cost && shareOf(cost, budget);
    },
    get refusal() {
      return refusal;
    },
    /** True while there is no answer of what stands there now. */
    get isBusy() {
      return due || answered < asked;
    },
    get isKnown() {
      return isKnown;
    },
    close: (): void => {
      if (timer !== undefined) clearTimeout(timer);
      // What it still works on is nobody's any more.
      if (worker && answered === asked) leaveWorker(worker);
      else worker?.terminate();
      worker = null;
    },
  };
};

export type Checking = ReturnType<typeof createChecking>;
