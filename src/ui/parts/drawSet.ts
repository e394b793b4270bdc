import { materialsOn } from '#core/document/materialsOn.ts';
import type { CompiledShader } from '#core/compileShader.ts';
import type { Parameter, SurfaceSettings } from '#core/document/shader.ts';
import type { StageDocument } from '#core/document/project.ts';
import { numbersFor, tablesFor, type Authored } from '#core/time/values.ts';
import type { Seen, Stage } from '#stage/stage.ts';

/** What a material looks like: its program, and what it stands at. */
export interface Look {
  readonly material: string;
  readonly shader: CompiledShader;
  readonly settings: SurfaceSettings;
  readonly parameters: readonly Parameter[];
  readonly authored: Authored;
  /** What is driven over it, where that is to be seen. */
  readonly driven?: Parameters<typeof numbersFor>[2];
  readonly knobs: ReadonlyMap<string, readonly number[]>;
  readonly pictures: ReadonlyMap<string, string>;
}

/** Brings a set and the looks given those that stand on it onto a stage, whatever stood there. */
export const dressStage = (stage: Stage, set: StageDocument, looks: readonly Look[]): void => {
  const standing = materialsOn(set);
  const seen = looks.filter((each) => standing.has(each.material));
  stage.setScene(set, new Map(seen.map(({ material, ...each }) => [material, each])));
  for (const { material, parameters, authored, driven, knobs, pictures } of seen)
    stage.setNumbers(material, {
      parameters: numbersFor(parameters, authored, driven),
      tables: tablesFor(parameters, authored, driven),
      ...{ knobs, pictures },
    });
};

/**
 * Draws a set once, of the looks given those that stand on it, out of sight, as a PNG of so many pixels.
 * @param from where it is seen from; its own camera where that is not told
 */
export const drawSet = (
  stage: Stage,
  set: StageDocument,
  looks: readonly Look[],
  [width, height]: readonly [number, number],
  from: Seen | null = null,
): Promise<Blob | null> => {
  stage.resize(width, height, 1);
  dressStage(stage, set, looks);
  stage.resetCamera();
  if (from) stage.look(from);
  return stage.snapshot();
};
