import { Button } from 'antd';
import { memo, useEffect, useMemo, useState } from 'react';
import { distanceTo } from '../../core/objects';
import {
  copiesWanted,
  equalObjects,
  leaveWithout,
  makeFixture,
  objectsWithCopy,
  putAtObjects,
  type CopiesWanted,
  type Rig,
  type StandingLamp,
} from '../../core/rig';
import { ObjectList, useChosenObjects } from '../objects/ChosenObjects';
import { chooseAllLike, useObjectChoice } from '../objects/objectChoice';
import { shortened } from '../desk/shortened';
import { Section } from '../desk/Section';
import { useStudioStore } from '../state/context';
import type { ChangeRig } from '../state/useRigEdit';
import { useView } from '../viewport/viewStore';
import { lampIdsOf } from './lampActions';
import { called, choose } from './lampTool';
import desk from '../desk/desk.module.css';

interface Props {
  mine: StandingLamp[];
  rig: Rig;
  edit: ChangeRig;
}

/** The chosen lamps at every object that is equal to the one they stand at. */
export const AtObjectsSection = memo(function AtObjectsSection({ mine, rig, edit }: Props) {
  const store = useStudioStore();
  const objects = useChosenObjects();
  const shapesLike = useView((s) => s.shapesLike);
  const drawn = useView((s) => s.drawn);
  const last = useObjectChoice((s) => s.last);
  // The lamps stand at the one of the chosen objects that is nearest to them.
  const at = useMemo(() => {
    const [lamp] = mine;
    if (!lamp || objects.length === 0) return null;
    return objects.reduce((best, o) => (distanceTo(o, lamp.at) < distanceTo(best, lamp.at) ? o : best)).name;
  }, [objects, mine]);
  const wanted = at ?? last;
  const equal = useMemo(
    () => (wanted && drawn && shapesLike ? equalObjects(wanted, shapesLike([wanted])) : []),
    [wanted, shapesLike, drawn],
  );
  const copyOf = mine.every((l) => l.placedId === mine[0]!.placedId) ? (mine[0]?.placedId ?? null) : undefined;
  if (objects.length === 0 || !wanted) return <Offers rig={rig} edit={edit} />;
  // More than one is chosen: just these. One alone stands for all that are equal to it.
  const names = new Set(objects.map((o) => o.name));
  const meant = names.size > 1 ? equal.filter((o) => names.has(o.name)) : equal;
  const left = names.size > 1 ? equal.filter((o) => !names.has(o.name)).map((o) => o.name) : [];
  const fixtureId = rig.placed.find((p) => p.id === copyOf)?.fixtureId;
  const taken = fixtureId ? objectsWithCopy(rig, fixtureId) : new Set<string>();
  const toDo = meant.filter((o) => !taken.has(o.name)).length;

  const put = () => {
    let copyId = copyOf ?? null;
    edit(`${called(mine)} at ${toDo + 1} equal objects`, (r) => {
      copyId = copyOf ?? copyMadeOf(r, new Set(mine.map((l) => l.id)), mine.length === 1 ? mine[0]!.name : 'Fixture');
      putAtObjects(r, copyId, at!, meant, left);
    });
    if (copyId) choose(lampIdsOf(store.getState().rig, new Set([copyId])));
  };
  return (
    <>
      <Section title="Equal objects" note={equal.length === 0 ? 'none' : `${equal.length + 1} alike`}>
        <p className={desk.text}>
          {equal.length === 0
            ? `No other object is equal to ${shortened(wanted, 30)}.`
            : names.size > 1
              ? `${meant.length + 1} of ${equal.length + 1} objects like ${shortened(wanted, 26)} are chosen.`
              : `${equal.length} more like ${shortened(wanted, 30)}.`}
        </p>
        <div className={desk.actions}>
          {equal.length > 0 && (
            <Button size="small" title="Chooses them; Ctrl and a click leaves one out" onClick={chooseAllLike}>
              All like it
            </Button>
          )}
          {mine.length > 0 && copyOf !== undefined && toDo > 0 && (
            <Button size="small" type="primary" title={`Puts a copy at each, with the same offset and turn as at ${wanted}`} onClick={put}>
              Put {mine.length === 1 ? 'it' : 'them'} at {toDo} more
            </Button>
          )}
        </div>
        {names.size > 1 && <ObjectList objects={objects} />}
        {mine.length === 0 && equal.length > 0 && <p className={desk.text}>Choose lamps as well to put them at each of these.</p>}
      </Section>
      <Offers rig={rig} edit={edit} />
    </>
  );
});

/** The id of the copy that stands where lamps were made a fixture. */
function copyMadeOf(rig: Rig, ids: ReadonlySet<string>, name: string): string {
  const fixtureId = makeFixture(rig, ids, name);
  return rig.placed.find((p) => p.fixtureId === fixtureId)!.id;
}

/** Objects of a newer level that are equal to those with copies and have none yet. */
function Offers({ rig, edit }: Pick<Props, 'rig' | 'edit'>) {
  const shapesLike = useView((s) => s.shapesLike);
  const drawn = useView((s) => s.drawn);
  const { fixtures, placed } = rig;
  const [offers, setOffers] = useState<CopiesWanted[]>([]);
  useEffect(() => {
    const standing = [...new Set(placed.flatMap((p) => p.object ?? []))];
    // A large level is looked through when nothing more urgent is to do.
    const timer = setTimeout(
      () => setOffers(standing.length > 0 && shapesLike ? copiesWanted({ fixtures, placed }, shapesLike(standing)) : []),
      LOOK_MS,
    );
    return () => clearTimeout(timer);
  }, [fixtures, placed, shapesLike, drawn]);
  return offers.map(({ fixtureId, copyId, object, equal }) => {
    const fixture = fixtures.find((f) => f.id === fixtureId);
    if (!fixture) return null;
    const few = equal.length === 1 ? '1 object' : `${equal.length} objects`;
    return (
      <Section key={fixtureId} title={`New for ${fixture.name}`} note={few}>
        <p className={desk.text}>
          {few} like {shortened(object, 26)} {equal.length === 1 ? 'has' : 'have'} no {fixture.name}.
        </p>
        <div className={desk.actions}>
          <Button
            size="small"
            type="primary"
            onClick={() => edit(`${fixture.name} at ${few} more`, (r) => putAtObjects(r, copyId, object, equal))}
          >
            Put one at each
          </Button>
          <Button
            size="small"
            onClick={() =>
              edit(`${few} without ${fixture.name}`, (r) =>
                leaveWithout(
                  r,
                  fixtureId,
                  equal.map((o) => o.name),
                ),
              )
            }
          >
            Leave them without
          </Button>
        </div>
      </Section>
    );
  });
}

/** The level is looked through when nothing has changed for this long. */
const LOOK_MS = 400;
