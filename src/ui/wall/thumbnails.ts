import { partsOf, setsOf, type Project } from '#core/document/project.ts';
import { compileElsewhere } from '../parts/compileElsewhere.ts';
import { drawSet, type Look } from '../parts/drawSet.ts';
import { picturesOf } from '../workshop/picturesOf.ts';

const WIDTH = 480;
const HEIGHT = 270;

/** Draws a project's stage once, out of sight; of its parts those alone are compiled that stand on it. */
const draw = async (whole: Project, signal: AbortSignal): Promise<Blob | null> => {
  const set = setsOf(whole)[0];
  if (!set) return null;
  // The stage is heavy; the wall is shown before it arrives.
  const [{ createStage }, { closureOf }] = await Promise.all([
    import('#stage/createStage.ts'),
    import('#core/document/closure.ts'),
  ]);
  const project = { ...whole, parts: closureOf(whole.parts, set.id) };
  const compiled = await compileElsewhere(project);
  signal.throwIfAborted();
  const stage = createStage({}, false);
  try {
    const shared = partsOf(project, 'shared')[0]?.body.values ?? {};
    const looks = partsOf(project, 'material').flatMap((material): Look[] => {
      const part = partsOf(project, 'shader').find((each) => each.id === material.body.shader);
      const shader = part && compiled.get(part.id)?.shader;
      if (!shader) return [];
      const { surface: settings, parameters } = part.body;
      return [
        {
          ...{ material: material.id, shader, settings, parameters, knobs: shader.knobs },
          authored: { values: material.body.values, shared },
          pictures: picturesOf(material.body, parameters),
        },
      ];
    });
    return await drawSet(stage, set.body, looks, [WIDTH, HEIGHT]);
  } finally {
    stage.dispose();
  }
};

let queue: Promise<unknown> = Promise.resolve();
/** Those that were made, by their projects: another visit to the wall finds them, where nothing was changed since. */
const kept = new Map<string, { readonly updatedAt: string; readonly picture: Blob }>();

/**
 * A picture of the project as it stands on the server, made one at a time.
 * @param signal says that nobody waits for it any more: what was not begun is not made
 */
export const thumbnailOf = (
  { id, updatedAt }: { readonly id: string; readonly updatedAt: string },
  signal: AbortSignal,
): Promise<Blob | null> => {
  const before = kept.get(id);
  if (before?.updatedAt === updatedAt) return Promise.resolve(before.picture);
  const made = queue.then(async () => {
    const response = await fetch(`/api/projects/${id}`, { signal });
    const picture = response.ok ? await draw((await response.json()) as Project, signal) : null;
    if (picture) kept.set(id, { updatedAt, picture });
    return picture;
  });
  queue = made.catch(() => null);
  return made;
};
