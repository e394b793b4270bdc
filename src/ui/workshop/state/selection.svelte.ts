import type { Cut } from '#stage/stage.ts';
import type { Walking } from '#stage/walk.ts';
import { SvelteSet } from 'svelte/reactivity';
import type { Part, PartOf, Project } from '#core/document/project.ts';
import { partsOf, setsOf } from '#core/document/project.ts';
import type { Hand } from '#stage/stage.ts';
import type { ScorePart } from './compiler.svelte.ts';
import { scriptsPlayed } from '#core/document/scriptsPlayed.ts';
import { keepFlag, readFlag } from './flags.ts';
import type { Shown, Tab } from './views.ts';

const WRAPS = 'wicked-veil.wraps';
const COSTS = 'wicked-veil.costs';

/** The material of the first thing in a set: what an author most likely came for. */
const firstMaterial = (set: PartOf<'stage'> | undefined): string | null =>
  set?.body.props[0]?.material ?? null;

/** What an author looks at and has in hand; none of it is saved. */
export const createSelection = (project: Project, parts: () => ReadonlyMap<string, Part>) => {
  let setId = $state<string | null>(setsOf(project)[0]?.id ?? null);
  let materialId = $state(firstMaterial(setsOf(project)[0]));
  /** The script that was opened; the set’s own where none was. */
  let scriptId = $state<string | null>(null);
  /** The texture in hand, and its step in hand; the last where none is. */
  let textureId = $state<string | null>(null);
  let textureStep = $state<string | null>(null);
  let tab = $state<Tab>('strands');
  /** The props in hand, the one taken last at the end. */
  let props = $state.raw<readonly string[]>([]);
  let propToName = $state<string | null>(null);
  let handles = $state<Hand['mode']>('move');
  let snap = $state(false);
  /** The pin that is read in the score, and whether a press on the stage puts one. */
  let pin = $state<string | null>(setsOf(project)[0]?.body.pins?.[0]?.id ?? null);
  let pinning = $state(false);
  /** The reference picture in hand, and whether all of them are hidden. */
  let reference = $state<string | null>(null);
  let hidesReferences = $state(false);
  /** The way that a point went is drawn beside the ribbons that smooth it. */
  let showsRaw = $state(false);
  /** What the camera is asked to frame. */
  let framing = $state.raw<readonly string[] | null>(null);
  /** The set’s camera is asked to stand where the stage is seen from now. */
  let takingView = $state(false);
  /** The stage is walked on, in place of turned round. */
  let walking = $state<Walking>(false);
  /** The motif that is worked on instead of the material's shader. */
  let motifId = $state<string | null>(null);
  let shown = $state.raw<Shown>({ kind: 'finished' });
  /** The step in hand, and the steps chosen beside it: asked for by step, so that only the cards concerned are told. */
  let selected = $state<string | null>(null);
  const inHand = new SvelteSet<string>();
  const chosen = new SvelteSet<string>();
  /** Where a step is asked for, and the strand that is to be named. */
  let asking = $state.raw<{ readonly strand: string; readonly at: number | null } | null>(null);
  let toName = $state<string | null>(null);
  /** Strands go on in a second line where they are longer than the score is wide. */
  let wraps = $state(readFlag(WRAPS));
  /** How a tap’s numbers are spread is shown beside it. */
  let histogram = $state(false);
  /** The plane on which distances to surfaces are seen. */
  let cut = $state.raw<Cut>({ axis: 2, at: 0, apart: 0.1 });
  /** Step cards show their share of what the shader costs. */
  let costs = $state(readFlag(COSTS));

  const list = $derived([...parts().values()]);
  const textures = $derived(partsOf({ parts: list }, 'texture'));
  const texture = $derived(textures.find((each) => each.id === textureId) ?? textures[0] ?? null);
  const materials = $derived(partsOf({ parts: list }, 'material'));
  const sets = $derived(setsOf({ parts: list }));
  const set = $derived(sets.find((each) => each.id === setId) ?? sets[0] ?? null);
  const scripts = $derived(partsOf({ parts: list }, 'script'));
  const played = $derived(scriptsPlayed(list, set?.body ?? null));
  const script = $derived(scripts.find((each) => each.id === scriptId) ?? played[0] ?? null);
  const material = $derived(materials.find((each) => each.id === materialId) ?? materials[0] ?? null);
  const shader = $derived.by((): PartOf<'shader'> | null => {
    const part = material ? parts().get(material.body.shader) : undefined;
    return part?.kind === 'shader' ? part : null;
  });
  const score = $derived.by((): ScorePart | null => {
    const motif = motifId === null ? undefined : parts().get(motifId);
    return motif?.kind === 'motif' ? motif : shader;
  });

  const look = (): void => {
    shown = { kind: 'finished' };
    take(null);
    chosen.clear();
  };
  const take = (step: string | null): void => {
    if (step === selected) return;
    selected = step;
    inHand.clear();
    if (step !== null) inHand.add(step);
  };
  const chooseOnly = (steps: Iterable<string>): void => {
    const wanted = new Set(steps);
    for (const each of [...chosen]) if (!wanted.has(each)) chosen.delete(each);
    for (const each of wanted) chosen.add(each);
  };

  /** The panel and the score show what a prop is of. */
  const showMaterialOf = (id: string | undefined): void => {
    const prop = set?.body.props.find((each) => each.id === id);
    if (!prop || prop.material === materialId || !parts().has(prop.material)) return;
    materialId = prop.material;
    motifId = null;
    look();
  };

  return {
    get materials() {
      return materials;
    },
    get sets() {
      return sets;
    },
    /** The set that is on the stage. */
    get stage() {
      return set;
    },
    /** Puts another set on the stage; what it shows first is in hand. */
    showSet: (id: string) => {
      setId = id;
      scriptId = null;
      props = [];
      walking = false;
      pin = sets.find((each) => each.id === id)?.body.pins?.[0]?.id ?? null;
      const first = firstMaterial(sets.find((each) => each.id === id));
      if (first !== null) materialId = first;
      motifId = null;
      look();
    },
    get scripts() {
      return scripts;
    },
    /** The scripts that play in the set, in their order. */
    get played() {
      return played;
    },
    /** The script that is worked on. */
    get script() {
      return script;
    },
    showScript: (id: string) => {
      scriptId = id;
      tab = 'script';
    },
    get textures() {
      return textures;
    },
    /** The texture that is worked on. */
    get texture() {
      return texture;
    },
    get textureStep() {
      return textureStep;
    },
    holdTexture: (id: string, step: string | null = null) => {
      textureId = id;
      textureStep = step;
    },
    get props() {
      return props;
    },
    /** Takes props in hand; the panel shows what the last of them is of. */
    holdProps: (ids: readonly string[]) => {
      props = ids;
      showMaterialOf(ids.at(-1));
    },
    get propToName() {
      return propToName;
    },
    nameProp: (id: string | null) => {
      propToName = id;
    },
    get handles() {
      return handles;
    },
    setHandles: (mode: Hand['mode']) => {
      handles = mode;
    },
    get snap() {
      return snap;
    },
    setSnap: (on: boolean) => {
      snap = on;
    },
    get pin() {
      return pin;
    },
    /** Reads a pin in the score; null reads none. */
    holdPin: (id: string | null) => {
      pin = id;
      const on = set?.body.pins?.find((each) => each.id === id)?.prop;
      showMaterialOf(on);
    },
    get pinning() {
      return pinning;
    },
    setPinning: (on: boolean) => {
      pinning = on;
    },
    get reference() {
      return reference;
    },
    holdReference: (id: string | null) => {
      reference = id;
      if (id !== null) hidesReferences = false;
    },
    get hidesReferences() {
      return hidesReferences;
    },
    setHidesReferences: (on: boolean) => {
      hidesReferences = on;
    },
    get showsRaw() {
      return showsRaw;
    },
    setShowsRaw: (on: boolean) => {
      showsRaw = on;
    },
    get takingView() {
      return takingView;
    },
    askTakeView: (on = true) => {
      takingView = on;
    },
    get walking() {
      return walking;
    },
    setWalking: (how: Walking) => {
      walking = how;
    },
    get framing() {
      return framing;
    },
    askFrame: (ids: readonly string[] | null) => {
      framing = ids;
    },
    get tab() {
      return tab;
    },
    showTab: (wanted: Tab) => {
      tab = wanted;
    },
    get material() {
      return material;
    },
    get shader() {
      return shader;
    },
    get score() {
      return score;
    },
    showMaterial: (id: string) => {
      materialId = id;
      motifId = null;
      look();
    },
    showMotif: (id: string | null) => {
      motifId = id;
      look();
    },
    /** What was deleted is not looked at any more. */
    forget: (id: string) => {
      if (motifId === id) motifId = null;
    },
    get shown() {
      return shown;
    },
    show: (wanted: Shown) => {
      shown = wanted;
    },
    get selected() {
      return selected;
    },
    get chosen(): ReadonlySet<string> {
      return chosen;
    },
    select: (step: string | null) => {
      take(step);
      if (chosen.size && (step === null || !chosen.has(step))) chosen.clear();
    },
    /** Adds a step to those chosen, or takes it out. */
    choose: (step: string) => {
      const now = new Set(chosen.size ? chosen : selected ? [selected] : []);
      if (now.has(step) && now.size > 1) now.delete(step);
      else now.add(step);
      chooseOnly(now);
      take(step);
    },
    isSelected: (step: string): boolean => inHand.has(step),
    chooseAll: chooseOnly,
    get asking() {
      return asking;
    },
    askFor: (place: { readonly strand: string; readonly at: number | null } | null) => {
      asking = place;
    },
    get toName() {
      return toName;
    },
    nameStrand: (id: string | null) => {
      toName = id;
    },
    get wraps() {
      return wraps;
    },
    setWraps: (on: boolean) => {
      wraps = on;
      keepFlag(WRAPS, on);
    },
    get histogram() {
      return histogram;
    },
    setHistogram: (on: boolean) => {
      histogram = on;
    },
    get cut() {
      return cut;
    },
    setCut: (wanted: Partial<Cut>) => {
      cut = { ...cut, ...wanted };
    },
    get costs() {
      return costs;
    },
    setCosts: (on: boolean) => {
      costs = on;
      keepFlag(COSTS, on);
    },
  };
};
