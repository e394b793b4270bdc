import type { Parameter, Step } from '#core/document/shader.ts';
import { KIND_WORDS, makeDefaults } from '#core/edits/partEdits.ts';
import type { Cue, Flourish, Part, PartOf, Prop } from '#core/document/project.ts';
import { STARTERS, type StarterKind } from '#core/document/starter.ts';
import { addStep, placeOfStep } from '#core/edits/shaderEdits.ts';
import { newId } from '../../parts/newId.ts';
import type { Comparing } from '../compare/comparing.svelte.ts';
import type { Rehearsal } from '../rehearsal.svelte.ts';
import { newStrand } from '../score/newStrand.ts';
import { findItems } from '../score/paletteItems.ts';
import { focusNow, focusStep } from '../score/stops.ts';
import { VIEWS } from '../state/views.ts';
import type { Session } from '../state/session.svelte.ts';
import { propsInHand } from '../state/propsInHand.ts';
import { TABS } from '../state/views.ts';
import { MESH_KINDS, type MadeRecipe } from '#core/meshes/makeMesh.ts';
import { nameOf, type Command } from './command.ts';
import { HANDLES, ON_PROP, type PropDeed } from './onProp.ts';
import { ON_PART, type PartDeed, type PartHere } from './onPart.ts';

/** What opens over the workshop. */
export type Sheet = 'commands' | 'history' | 'keys' | 'parameter' | 'import' | 'parts' | 'contact sheet';

/** The workshop as its commands see it. */
export interface Desk {
  readonly session: Session;
  readonly rehearsal: Rehearsal;
  readonly open: (sheet: Sheet) => void;
  readonly doToPart: (part: Part, deed: PartDeed) => void;
  readonly begin: (kind: StarterKind) => void;
  readonly doToProps: (deed: PropDeed) => void;
  /** Puts a new prop of a kind of mesh on the set. */
  readonly newProp: (kind: MadeRecipe['kind']) => void;
  /** Asks for the files of a model, and stands it on the set. */
  readonly bringModel: () => void;
  /** Asks for pictures to look at beside the set. */
  readonly bringReference: () => void;
  /** Gives what is in hand another material. */
  readonly dress: (material: string) => void;
  /** Lets the material in hand be of another shader. */
  readonly useShader: (shader: PartOf<'shader'>) => void;
  /** Makes what the material in hand stands at its shader’s defaults. */
  readonly makeDefaults: () => void;
  /** Puts a pin on the middle of a prop. */
  readonly pinProp: (prop: Prop) => void;
  /** Runs a parameter through its range. */
  readonly sweep: (parameter: Parameter) => void;
  /** Rehearses to keep it as a take; while it is rehearsed, keeps it. */
  readonly recordTake: () => void;
  /** Begins a cue, and plays one. */
  readonly addCue: () => void;
  readonly playCue: (cue: Cue) => void;
  readonly addFlourish: () => void;
  readonly playFlourish: (flourish: Flourish) => void;
  readonly comparing: Pick<Comparing, 'other' | 'isHeld' | 'begin' | 'keep' | 'choose' | 'hold'>;
  /** Leaves for another page. */
  readonly go: (path: string) => void;
}
export interface DeskCommand extends Command<Desk> {
  /** Its keys are heard in a field that is typed in, too. */
  readonly whileTyping?: true;
  /** Its keys are heard while rehearsing, when all others are the player's. */
  readonly whileRehearsing?: true;
  /** It lasts as long as its keys are held. */
  readonly whileHeld?: true;
  /** Its keys are heard over a dialog, too. */
  readonly overDialogs?: true;
}

/** The place behind the step in hand, else at the end of the last strand. */
const placeInHand = ({ session }: Desk): { readonly strand: number; readonly step: number } | null => {
  const { score, selected } = session;
  if (!score?.body.strands.length) return null;
  const held = score.body.strands.some((each) => each.steps.some((step) => step.id === selected));
  if (held) {
    const at = placeOfStep(score.body, selected!);
    return { ...at, step: at.step + 1 };
  }
  return { strand: score.body.strands.length - 1, step: score.body.strands.at(-1)!.steps.length };
};

const askForStep = (desk: Desk): void => {
  const at = placeInHand(desk);
  const strand = at && desk.session.score!.body.strands[at.strand];
  if (strand) desk.session.askFor({ strand: strand.id, at: at.step });
};

const addToHand = (desk: Desk, step: Omit<Step, 'id'>): void => {
  const at = placeInHand(desk);
  if (!at) return;
  const { session } = desk;
  const id = `step-${newId()}`;
  session.apply(addStep(session.score!.id, at, { id, ...step }));
  session.select(id);
  focusNow(id);
};

const MESH_NAMES = [...MESH_KINDS.keys()] as readonly MadeRecipe['kind'][];
const STARTER_KINDS = Object.keys(STARTERS) as readonly StarterKind[];
const defaultsOf = ({ material, shader }: Session) =>
  material && shader ? makeDefaults(material, shader) : [];

/** What can be done wherever one is. */
export const EVERYWHERE: readonly DeskCommand[] = [
  {
    ...{ name: 'Every command', keys: ['Ctrl+K'], tells: 'every command by name' },
    ...{ whileTyping: true, whileRehearsing: true, overDialogs: true },
    run: ({ open }) => open('commands'),
  },
  {
    name: ({ rehearsal }) => (rehearsal.running ? 'Stop the rehearsal' : 'Rehearse'),
    ...{ keys: ['Ctrl+Enter'], tells: 'rehearse, or stop', whileTyping: true, whileRehearsing: true },
    run: ({ rehearsal }) => rehearsal.toggle(),
  },
  {
    name: 'Keep the driven values',
    when: ({ session }) => session.values.driven.size > 0,
    run: ({ rehearsal }) => rehearsal.keep(),
  },
  {
    name: ({ session }) => `Undo: ${session.canUndo}`,
    ...{ keys: ['Ctrl+Z'], tells: 'undo', whileRehearsing: true },
    when: ({ session }) => session.canUndo !== null,
    run: ({ session }) => session.undo(),
  },
  {
    name: ({ session }) => `Redo: ${session.canRedo}`,
    ...{ keys: ['Ctrl+Shift+Z'], tells: 'redo', whileRehearsing: true },
    when: ({ session }) => session.canRedo !== null,
    run: ({ session }) => session.redo(),
  },
  {
    ...{ name: 'Add a step', keys: ['/'], tells: 'add a step: every operator by name' },
    when: (desk) => placeInHand(desk) !== null,
    run: askForStep,
  },
  {
    ...{ name: 'Show the finished picture', keys: ['Escape'], whileRehearsing: true },
    tells: 'stop rehearsing; else back to the finished picture',
    run: ({ session, rehearsal }) =>
      rehearsal.running
        ? rehearsal.stop()
        : session.pinning
          ? session.setPinning(false)
          : session.show({ kind: 'finished' }),
  },
  ...VIEWS.filter(({ kind }) => kind !== 'finished').map(({ kind, name }) => ({
    name: `Show ${name}`,
    run: ({ session }: Desk) => session.show({ kind }),
  })),
  {
    name: 'Add strand',
    when: ({ session }) => session.score !== null,
    run: ({ session }) => newStrand(session),
  },
  {
    name: ({ session }) => (session.wraps ? 'Keep strands in one line' : 'Wrap long strands'),
    run: ({ session }) => session.setWraps(!session.wraps),
  },
  {
    name: ({ session }) => (session.costs ? 'Hide what steps cost' : 'Show what steps cost'),
    run: ({ session }) => session.setCosts(!session.costs),
  },
  {
    ...{
      name: 'Parts of the project',
      keys: ['Ctrl+O'],
      tells: 'the project’s list: every part, new ones too',
    },
    whileTyping: true,
    run: ({ open }) => open('parts'),
  },
  ...STARTER_KINDS.map((kind) => ({
    name: `New ${KIND_WORDS[kind]}`,
    run: ({ begin }: Desk) => begin(kind),
  })),
  {
    name: ({ session }) => `Make the values of ${session.material!.name} the defaults of its shader`,
    when: ({ session }) => defaultsOf(session).length > 0,
    run: (desk) => desk.makeDefaults(),
  },
  ...TABS.map(({ tab, name }) => ({
    name: `Show ${name.toLowerCase()}`,
    run: ({ session }: Desk) => session.showTab(tab),
  })),
  ...MESH_NAMES.map((kind) => ({
    name: `Add a prop: ${kind}`,
    when: ({ session }: Desk) => session.stage !== null && session.material !== null,
    run: ({ newProp }: Desk) => newProp(kind),
  })),
  {
    ...{ name: ({ session }) => (session.pinning ? 'Put no pin' : 'Put a pin'), keys: ['X'] },
    tells: 'put a pin where the stage is pressed next; with Shift more than one',
    when: ({ session }) => session.stage !== null,
    run: ({ session }) => session.setPinning(!session.pinning),
  },
  {
    name: ({ session }) => `Put a pin on ${propsInHand(session).at(-1)!.name}`,
    when: ({ session }) => session.props.length > 0 && propsInHand(session).length > 0,
    run: ({ session, pinProp }) => pinProp(propsInHand(session).at(-1)!),
  },
  {
    ...{ name: ({ session }) => (session.walking ? 'Turn round the set' : 'Walk the set'), keys: ['`'] },
    ...{ tells: 'walk the set, or turn round it', whileRehearsing: true },
    when: ({ session }) => session.stage !== null,
    run: ({ session }) => {
      session.setWalking(session.walking ? false : 'eyes');
      document.querySelector<HTMLElement>('[data-testid=stage]')?.focus({ preventScroll: true });
    },
  },
  {
    ...{ name: 'Follow the walker from behind', keys: ['~'], tells: 'follow the walker from behind' },
    whileRehearsing: true,
    when: ({ session }) => session.stage !== null,
    run: ({ session }) => {
      session.setWalking('behind');
      document.querySelector<HTMLElement>('[data-testid=stage]')?.focus({ preventScroll: true });
    },
  },
  {
    name: ({ rehearsal }) => (rehearsal.running ? 'Keep what is rehearsed as a take' : 'Record a take'),
    when: ({ session }) => session.stage !== null,
    run: ({ recordTake }) => recordTake(),
  },
  {
    name: 'Add a cue',
    when: ({ session }) => session.stage !== null,
    run: ({ addCue }) => addCue(),
  },
  {
    name: 'Add a flourish',
    when: ({ session }) => session.stage !== null,
    run: ({ addFlourish }) => addFlourish(),
  },
  {
    ...{ name: 'Show the stage without what is in hand', keys: ['V'], whileHeld: true },
    tells: 'while held: the stage without the step, the prop or the material in hand',
    when: ({ session }) => session.stage !== null,
    run: ({ comparing }) => comparing.hold(!comparing.isHeld),
  },
  {
    name: ({ comparing }) => (comparing.other ? 'End the comparison' : 'Compare with how it stands now'),
    when: ({ session }) => session.stage !== null,
    run: ({ comparing }) => (comparing.other ? comparing.choose(null) : comparing.begin()),
  },
  {
    name: ({ session }) => (session.histogram ? 'Hide the numbers of a tap' : 'Show the numbers of a tap'),
    run: ({ session }) => session.setHistogram(!session.histogram),
  },
  {
    name: 'Contact sheet',
    when: ({ session }) => session.stage !== null,
    run: ({ open }) => open('contact sheet'),
  },
  {
    name: 'Keep how it stands now',
    when: ({ session }) => session.stage !== null,
    run: ({ comparing }) => comparing.keep(),
  },
  {
    name: 'Frame the whole set',
    when: ({ session }) => session.stage !== null,
    run: ({ session }) => session.askFrame([]),
  },
  { name: 'Add parameter', run: ({ open }) => open('parameter') },
  { name: 'Import GLSL', run: ({ open }) => open('import') },
  {
    name: 'Import model',
    when: ({ session }) => session.stage !== null,
    run: ({ bringModel }) => bringModel(),
  },
  {
    name: 'Add a reference picture',
    when: ({ session }) => session.stage !== null,
    run: ({ bringReference }) => bringReference(),
  },
  {
    name: ({ session }) =>
      session.hidesReferences ? 'Show the reference pictures' : 'Hide the reference pictures',
    when: ({ session }) => (session.stage?.body.references?.length ?? 0) > 0,
    run: ({ session }) => session.setHidesReferences(!session.hidesReferences),
  },
  { name: 'History of parts', run: ({ open }) => open('history') },
  { name: 'Keys', keys: ['?'], tells: 'this page', run: ({ open }) => open('keys') },
  { name: 'Handover', run: ({ session, go }) => go(`/projects/${session.id}/handover`) },
  { name: 'All projects', run: ({ go }) => go('/') },
  {
    name: 'Back to the shader',
    when: ({ session }) => session.openMotif !== null,
    run: ({ session }) => session.showMotif(null),
  },
];

/** Parameters of one number: what can be swept. */
const sweptOf = ({ shader, openMotif }: Session): readonly Parameter[] =>
  openMotif ? [] : (shader?.body.parameters.filter(({ kind }) => kind === 'float' || kind === 'int') ?? []);

/** What can be done to what the project holds: materials, strands, motifs, and every step there is to add. */
const offered = ({ session }: Desk): DeskCommand[] => [
  ...session.parts.flatMap((part) => {
    const here = (desk: Desk): PartHere => ({ part, do: (deed) => desk.doToPart(part, deed) });
    return ON_PART.filter((each) => each.when?.({ part, do: () => undefined }) ?? true).map((each) => ({
      name: `${each.name as string} ${KIND_WORDS[part.kind]} ${part.name}`,
      run: (desk: Desk) => each.run(here(desk)),
    }));
  }),
  ...(session.stage?.body.props ?? []).map((each) => ({
    name: `Take ${each.name} in hand`,
    run: () => session.holdProps([each.id]),
  })),
  ...[...ON_PROP, ...HANDLES].flatMap((each) => {
    const props = propsInHand(session);
    if (!props.length) return [];
    const here = { props, do: () => undefined };
    const what = props.length === 1 ? props[0]!.name : `${props.length} props`;
    if (each.when && !each.when(here)) return [];
    const isTold = each.isTold ?? HANDLES.includes(each);
    return [
      {
        name: isTold ? nameOf(each, here) : `${nameOf(each, here)} ${what}`,
        run: (desk: Desk) => each.run({ props, do: desk.doToProps }),
      },
    ];
  }),
  ...(session.props.length
    ? session.materials.map((each) => ({
        name: `Give what is in hand the material ${each.name}`,
        run: (desk: Desk) => desk.dress(each.id),
      }))
    : []),
  ...session.parts
    .filter((each): each is PartOf<'shader'> => each.kind === 'shader' && each.id !== session.shader?.id)
    .filter(() => session.material !== null)
    .map((shader) => ({
      name: `Let ${session.material!.name} be of the shader ${shader.name}`,
      run: (desk: Desk) => desk.useShader(shader),
    })),
  ...sweptOf(session).map((each) => ({
    name: `Sweep ${each.name}`,
    run: ({ sweep }: Desk) => sweep(each),
  })),
  ...(session.stage?.body.pins ?? []).map((each) => ({
    name: `Read the pin ${each.name}`,
    run: () => session.holdPin(each.id),
  })),
  ...(session.stage?.body.cues ?? []).map((each) => ({
    name: `Play the cue ${each.name}`,
    run: ({ playCue }: Desk) => playCue(each),
  })),
  ...(session.stage?.body.flourishes ?? []).map((each) => ({
    name: `Play the flourish ${each.name}`,
    run: ({ playFlourish }: Desk) => playFlourish(each),
  })),
  ...(session.score?.body.strands ?? []).map((each) => ({
    name: `Go to strand ${each.name}`,
    run: () => {
      const [first] = each.steps;
      if (first) focusStep(first.id);
    },
  })),
  ...findItems('', session.library, session.openMotif?.id ?? null).map((each) => ({
    name: `Add step ${each.name}`,
    run: (desk: Desk) => addToHand(desk, each.step),
  })),
];

/** Every command there is now, as the command list finds them by name. */
export const commandsNow = (desk: Desk): DeskCommand[] => [
  ...EVERYWHERE.filter(({ when, whileHeld }) => !whileHeld && (when?.(desk) ?? true)),
  ...offered(desk),
];
