import { toast } from 'svelte-sonner';
import { parentsOf, wayOn } from '#core/document/parents.ts';
import type { Prop } from '#core/document/project.ts';
import { meshStarter } from '#core/meshes/meshStarter.ts';
import {
  addProp,
  changeProps,
  duplicateProps,
  freePropName,
  mayStandOn,
  removeProps,
  setParent,
} from '#core/edits/stageEdits.ts';
import { coarse, makeMesh, type MadeRecipe, type MeshRecipe } from '#core/meshes/makeMesh.ts';
import { newId } from '../../parts/newId.ts';
import type { PropDeed } from '../commands/onProp.ts';
import { propsInHand } from '../state/propsInHand.ts';
import type { Session } from '../state/session.svelte.ts';

/** How far below its own middle a mesh reaches, so that it can be stood on the floor. */
const lowest = (mesh: MeshRecipe): number => {
  const { positions } = makeMesh(coarse(mesh, 16));
  return positions.reduce((low, y, i) => (i % 3 === 1 ? Math.min(low, y) : low), Infinity);
};

/** Puts a new prop where the camera looks, with the material in hand, and takes it in hand. */
export const newProp = (session: Session, kind: MadeRecipe['kind']): void => {
  const { stage, material } = session;
  if (!stage) return void toast.error('There is no set to put it on; begin one from the project’s list.');
  if (!material) return void toast.error('A prop needs a material; begin one from the project’s list.');
  const [x, , z] = stage.body.camera.target;
  const id = `prop-${newId()}`;
  const name = freePropName(stage, `${kind[0]!.toUpperCase()}${kind.slice(1)}`);
  const mesh = meshStarter(kind);
  const prop: Prop = {
    ...{ id, name, mesh, material: material.id },
    ...{ position: [x, -lowest(mesh), z], rotation: [0, 0, 0] },
  };
  session.apply(addProp(stage, prop));
  session.holdProps([id]);
};

/** Changes one prop of the set; a merge makes a run of such changes one. */
export const changeProp = (
  session: Session,
  { id }: Prop,
  label: string,
  how: (prop: Prop) => Prop,
  merge?: string,
): void => {
  if (session.stage) session.apply(changeProps(session.stage, [id], label, how, merge));
};

/** Moves what is in hand and not locked by so many metres of the world; what stands on something in hand goes with that. */
export const nudgeProps = (session: Session, way: readonly [number, number, number]): void => {
  const { stage } = session;
  if (!stage) return;
  const { props } = stage.body;
  const moving = propsInHand(session).filter((each) => !each.locked);
  const isCarried = ({ id }: Prop): boolean =>
    parentsOf(props, id).some((parent) => moving.some((each) => each.id === parent));
  const ids = moving.flatMap((each) => (isCarried(each) ? [] : [each.id]));
  if (!ids.length) return;
  session.apply(
    changeProps(
      stage,
      ids,
      'Move',
      (prop) => {
        const [x, y, z] = prop.position;
        const [dx, dy, dz] = wayOn(props, prop.id, way);
        const to = (n: number) => Math.round(n * 1e4) / 1e4;
        return { ...prop, position: [to(x + dx), to(y + dy), to(z + dz)] };
      },
      'nudge',
    ),
  );
};

/** What a prop can be marked as; each is told only where it is so. */
export type Mark = 'passable' | 'hidden' | 'locked' | 'uncopied' | 'shadowless' | 'fieldless' | 'unsigned';

/** A prop without a mark that it does not have. */
export const marked = (prop: Prop, mark: Mark, on: boolean): Prop => {
  const { [mark]: _, ...rest } = prop;
  return on ? { ...rest, [mark]: true } : rest;
};

/** Does what was asked of the props in hand. */
export const doToProps = (session: Session, deed: PropDeed): void => {
  const { stage } = session;
  const props = propsInHand(session);
  if (!stage || !props.length) return;
  const ids = props.map((each) => each.id);
  switch (deed) {
    case 'frame':
      return session.askFrame(ids);
    case 'rename':
      session.showTab('stage');
      return session.nameProp(ids.at(-1)!);
    case 'duplicate': {
      const { edit, made } = duplicateProps(stage, ids, newId);
      session.apply(edit);
      return session.holdProps(made);
    }
    case 'hide':
    case 'lock': {
      const mark = deed === 'hide' ? 'hidden' : 'locked';
      const on = !props.every((each) => each[mark]);
      const words = { hidden: ['Show', 'Hide'], locked: ['Unlock', 'Lock'] } as const;
      session.apply(
        changeProps(
          stage,
          ids,
          `${words[mark][on ? 1 : 0]} ${props.length === 1 ? props[0]!.name : `${props.length} props`}`,
          (prop) => marked(prop, mark, on),
        ),
      );
      return;
    }
    case 'stand': {
      const on = props.at(-1)!;
      const others = ids.slice(0, -1).filter((each) => mayStandOn(stage, [each], on.id));
      if (!others.length) return void toast(`${on.name} stands on what is in hand; it cannot carry it too.`);
      return session.apply(setParent(stage, others, on.id));
    }
    case 'leave':
      return session.apply(setParent(stage, ids, undefined));
    case 'delete':
      session.apply(removeProps(stage, ids));
      return session.holdProps([]);
    case 'snap':
      return session.setSnap(!session.snap);
    default:
      return session.setHandles(deed);
  }
};

/** Gives props a material, which is then the one in the panel. */
export const dressProps = (session: Session, ids: readonly string[], material: string): void => {
  const { stage } = session;
  const part = session.part(material);
  if (!stage || part?.kind !== 'material' || !ids.length) return;
  const names = stage.body.props.filter((each) => ids.includes(each.id)).map((each) => each.name);
  session.apply(
    changeProps(
      stage,
      ids,
      `Give ${names.length === 1 ? names[0]! : `${names.length} props`} ${part.name}`,
      (prop) => (prop.material === material ? prop : { ...prop, material }),
    ),
  );
  session.holdProps(ids);
};
