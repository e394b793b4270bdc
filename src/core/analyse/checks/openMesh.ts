import { broughtFor, coarse, makeMesh } from '../../meshes/makeMesh.ts';
import { openEdges } from '../../meshes/openEdges.ts';
import { propsAsking } from '../propsAsking.ts';
import type { Check, Found } from '../scene.ts';

/** Quads along an edge: enough to tell whether a mesh is closed. */
const FEW = 12;

export const openMesh: Check = {
  name: 'open-mesh',
  title: 'An open mesh among distances',
  why: 'What has no inside cannot be below 0 from a surface: until it is to count by its distance alone, it counts as nowhere.',
  of: 'set',
  look: ({ subjects, set }) => {
    if (!set) return [];
    const asking = propsAsking(subjects, set.body.props);
    return set.body.props.flatMap((prop, at): Found[] => {
      const { id, name, mesh, hidden, fieldless, unsigned } = prop;
      const isAsked = asking.some((each) => each.id !== id);
      // What comes from elsewhere and is not here says so on the stage.
      if (hidden || fieldless || unsigned || !isAsked || broughtFor(mesh)?.isHere === false) return [];
      if (!openEdges(makeMesh(coarse(mesh, FEW)))) return [];
      return [
        {
          ...{ part: set.id, place: { kind: 'prop', prop: id } },
          message: `${name} is open and has no inside, so it does not count as a surface near others. It can count by its distance alone, or be left out.`,
          fix: {
            ...{ label: `Count ${name} by distance alone`, part: set.id },
            patches: [{ op: 'add', path: ['props', at, 'unsigned'], value: true }],
          },
        },
      ];
    });
  },
};
