import type { TextureStep } from '#core/document/project.ts';

/** A number of a step that stands along a histogram, to be dragged. */
export interface Handle {
  readonly name: string;
  /** From 0 to 1 along it. */
  readonly at: number;
  readonly put: (at: number) => void;
}

type Put = (name: string, value: number) => void;

/** Numbers of a step that stand on the histogram of what it is given. */
export const handlesOf = ({ step, numbers }: TextureStep, put: Put): readonly Handle[] => {
  const stands = (name: string, start: number): number => numbers[name]?.[0] ?? start;
  const plain = (name: string, start: number): Handle => ({
    ...{ name, at: stands(name, start) },
    put: (at) => put(name, at),
  });
  if (step === 'threshold' || step === 'distance') return [plain('edge', 0.5)];
  if (step !== 'levels') return [];
  const [black, white, gamma] = [stands('black', 0), stands('white', 1), stands('gamma', 1)];
  const width = white - black;
  return [
    plain('black', 0),
    // Where it comes to a half.
    {
      ...{ name: 'gamma', at: black + width * 0.5 ** gamma },
      put: (at) => {
        const t = Math.min(Math.max((at - black) / (width || 1), 0.004), 0.966);
        put('gamma', Math.round((Math.log(t) / Math.log(0.5)) * 1000) / 1000);
      },
    },
    plain('white', 1),
  ];
};
