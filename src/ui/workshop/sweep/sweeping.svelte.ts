import { packProgram } from '#core/program/packProgram.ts';
import type { Parameter } from '#core/document/shader.ts';
import { sweptStrands, type Swept } from '#core/taps/sweep.ts';
import type { SweptMap } from '#core/taps/sweepMap.ts';
import type { FromSweeper, ToSweeper } from '#workers/sweep.worker.ts';
import type { PinWatch } from '../pins/watchPins.svelte.ts';
import type { Session } from '../state/session.svelte.ts';

/** How many values of the parameter are looked at. */
export const SAMPLES = 64;
/** And along each of two. */
export const ALONG = 20;

/** A parameter's run through its range: what is asked, how far it is, and what it found. */
export const createSweeping = (session: Session, pins: PinWatch) => {
  let parameter = $state<string | null>(null);
  let from = $state(0);
  let to = $state(1);
  /** The strand that stands for how much shows; null for the surface's opacity. */
  let strand = $state<string | null>(null);
  let share = $state<number | null>(null);
  let swept = $state.raw<Swept | null>(null);
  /** A second parameter, by id, and how much shows over both. */
  let second = $state<string | null>(null);
  let map = $state.raw<SweptMap | null>(null);
  /** What it was found of, so that a later change can be told. */
  let of = $state.raw<unknown>(null);
  let refusal = $state<string | null>(null);
  let worker: Worker | null = null;

  const end = (): void => {
    worker?.terminate();
    worker = null;
    share = null;
  };
  const refuse = (sentence: string): void => {
    end();
    refusal = sentence;
  };
  const other = $derived(session.document?.parameters.find((each) => each.id === second) ?? null);
  const found = $derived(session.document?.parameters.find((each) => each.id === parameter) ?? null);

  /** What a parameter changes and one number tells. */
  const strandsOf = (name: string) => {
    const good = session.shaderState?.good;
    const ids = new Set(good ? sweptStrands(good.program, name) : []);
    return session.document?.strands.filter(({ id }) => ids.has(id)) ?? [];
  };

  const run = (): void => {
    end();
    refusal = null;
    swept = null;
    map = null;
    const good = session.shaderState?.good;
    if (!found || session.openMotif) return;
    if (found.kind !== 'float' && found.kind !== 'int')
      return refuse(`${found.name} is a ${found.kind}; what is swept is one number.`);
    if (!good) return refuse('This shader does not work yet; there is nothing to sweep.');
    const { material, stage } = session;
    const onHand = stage?.body.props.filter((each) => each.material === material?.id) ?? [];
    const prop = onHand.find((each) => session.props.includes(each.id)) ?? onHand[0];
    const standing = prop && pins.standingOf(prop.id);
    if (!standing)
      return refuse(
        `${material?.name ?? 'This material'} is on no prop of ${stage?.name ?? 'a set'}; put it on one to sweep it there.`,
      );
    share = 0;
    worker = new Worker(new URL('../../../workers/sweep.worker.ts', import.meta.url), { type: 'module' });
    worker.onmessage = ({ data }: MessageEvent<FromSweeper>) => {
      if ('share' in data) share = data.share;
      else if ('refused' in data) refuse(data.refused);
      else {
        end();
        if ('map' in data) ({ map } = data);
        else ({ swept } = data);
        of = good.program;
      }
    };
    worker.onerror = (event) => {
      event.preventDefault();
      refuse(`The sweep stopped: ${event.message}.`);
    };
    worker.postMessage({
      ...{ program: packProgram(good.program).packed, parameter: found.name, from, to },
      samples: other ? ALONG : SAMPLES,
      second: other && { parameter: other.name, from: other.min, to: other.max },
      ...{ strand: strand ?? undefined, ...standing },
    } satisfies ToSweeper);
  };

  return {
    get parameter() {
      return found;
    },
    get from() {
      return from;
    },
    get to() {
      return to;
    },
    get strand() {
      return strand;
    },
    get strands() {
      return found ? strandsOf(found.name) : [];
    },
    get share() {
      return share;
    },
    get swept() {
      return swept;
    },
    get second() {
      return other;
    },
    /** Sweeps over both; null for one alone. */
    setSecond: (id: string | null): void => {
      second = id;
      run();
    },
    get map() {
      return map;
    },
    get refusal() {
      return refusal;
    },
    /** True where the shader is another since. */
    get isPast() {
      return (swept !== null || map !== null) && session.shaderState?.good?.program !== of;
    },
    /** Begins with a parameter's own range and a little beyond. */
    begin: (asked: Parameter): void => {
      const beyond = asked.kind === 'float' ? (asked.max - asked.min) * 0.2 : 0;
      parameter = asked.id;
      second = null;
      from = Number((asked.min - beyond).toPrecision(6));
      to = Number((asked.max + beyond).toPrecision(6));
      const surface = session.shader?.body.surface;
      const readsOpacity = surface && surface.alphaMode !== 'opaque' && surface.outputs.opacity !== undefined;
      const concerned = strandsOf(asked.name);
      strand = readsOpacity ? null : ((concerned.find(isMask) ?? concerned[0])?.id ?? null);
      run();
    },
    setRange: (least: number, most: number): void => {
      [from, to] = [least, most];
      run();
    },
    setStrand: (id: string | null): void => {
      strand = id;
      run();
    },
    run,
    cancel: (): void => refuse('Cancelled.'),
    close: (): void => {
      end();
      parameter = null;
      swept = null;
    },
  };
};

/** A strand that ends in a step that makes a mask. */
const isMask = ({ steps }: { readonly steps: readonly { readonly operator: string }[] }): boolean =>
  /step|clamp|saturate|falloff|band|mask/i.test(steps.at(-1)?.operator ?? '');

export type Sweeping = ReturnType<typeof createSweeping>;
