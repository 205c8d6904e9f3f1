'use client';

import { useQuery } from '@tanstack/react-query';
import { Alert, Button, Spin } from 'antd';
import Link from 'next/link';
import { useRouter } from 'next/navigation';
import { useDeferredValue, useEffect, useMemo, useState } from 'react';
import { checkRig } from '../core/rig';
import { Failure } from '../core/units';
import type { ProjectView } from '../core/api';
import { api } from './api/client';
import { BakeWipe } from './bake/BakeWipe';
import { keepHeardCircuits } from './bake/looking';
import { useShownBake } from './bake/shownBake';
import { useBakeControl } from './bake/useBakeControl';
import { useEye } from './bake/useEye';
import { CommandList, KeySheet, useCommandKeys, type Peeked } from './commands/Commands';
import { studioCommands } from './commands/commands';
import { CueRail } from './cues/CueRail';
import { CompareOver } from './compare/CompareOver';
import { keepKeptLights } from './compare/keptLights';
import { useSheet } from './compare/sheetStore';
import { useLadder } from './desk/ladderAsked';
import { useCueTable } from './cues/cueChoice';
import { Dayline } from './dayline/Dayline';
import { keepPictures } from './history/keepPictures';
import { LookingBar } from './history/LookingBar';
import { useHistory } from './history/historyStore';
import { InstrumentLine } from './instrument/InstrumentLine';
import { DropVeil, IncomingCard } from './intake/IncomingCard';
import { SeemsPlaced } from './intake/SeemsPlaced';
import { useLevelDrop } from './intake/useLevelDrop';
import { usePlacedLevel } from './intake/usePlacedLevel';
import { PartFault } from './desk/PartFault';
import { ServerTrouble } from './desk/ServerTrouble';
import { useLampTool } from './lamps/lampTool';
import { OpenCopy } from './lamps/OpenCopy';
import { keepChoice } from './objects/objectChoice';
import { useKept } from './shelf/keptStore';
import { useSkyPixels } from './skies/useSkyPixels';
import { useSkyShelf } from './skies/useSkyShelf';
import { useSkyUpload } from './skies/useSkyUpload';
import {
  BakeDesk,
  CompareDesk,
  CueTable,
  DayDesk,
  DimmerPlan,
  GradeDesk,
  HistoryPanel,
  LadderPanel,
  KeptPanel,
  LampsDesk,
  SheetPanel,
  SkyDesk,
  Viewport,
  loadFirst,
  loadRooms,
} from './rooms';
import { browserPorts, createAutosave, type Autosave } from './state/autosave';
import { StudioContext, useStudio } from './state/context';
import { followElsewhere } from './state/elsewhere';
import { createStudioStore, type StudioStore } from './state/studioStore';
import { StrollBar } from './strolls/StrollBar';
import { leaveStrolls } from './strolls/record';
import { useRigEdit } from './state/useRigEdit';
import { useTell } from './state/useTell';
import { useWarmCues } from './state/useWarmCues';
import { TopLine } from './TopLine';
import { useWalking } from './viewport/gestures/useWalking';
import { useView } from './viewport/viewStore';
import styles from './studio.module.css';

/** The studio of one project. */
export function Studio({ projectId }: { projectId: string }) {
  useEffect(loadFirst, []);
  const { data, error, refetch } = useQuery({
    queryKey: ['project', projectId],
    queryFn: () => api.project(projectId),
    staleTime: Infinity,
    retry: (count, problem) => !(problem instanceof Failure) && count < 3,
  });
  if (error) {
    return (
      <main className={styles.empty}>
        <title>Basil</title>
        <p>{error instanceof Failure ? error.sentence : 'Basil’s server does not answer.'}</p>
        <p>
          <Button onClick={() => void refetch()}>Try again</Button> <Link href="/">Back to the shelf</Link>
        </p>
      </main>
    );
  }
  if (!data) {
    return (
      <main className={styles.empty} aria-busy>
        <title>Basil</title>
        <Spin description="Opening the project" />
      </main>
    );
  }
  return <OpenProject key={data.id} view={data} />;
}

/** A project is opened once; what changes later comes through its store. */
function OpenProject({ view }: { view: ProjectView }) {
  const [store] = useState(() => createStudioStore(view));
  const [autosave] = useState(() => createAutosave(store, view.revision, browserPorts(view.id)));
  useEffect(() => autosave.start(), [autosave]);
  // Its parts are checked now, so that the first edit has its own alone to check.
  useEffect(() => void setTimeout(() => checkRig(view.rig)), [view.rig]);
  useEffect(() => keepChoice(view.id), [view.id]);
  useEffect(() => keepHeardCircuits(view.id), [view.id]);
  const { fault } = useTell();
  useEffect(() => keepKeptLights(view.id, fault), [view.id, fault]);
  useEffect(() => leaveStrolls, [view.id]);
  return (
    <StudioContext value={store}>
      <title>{`${view.name} · Basil`}</title>
      <OpenStudio autosave={autosave} store={store} />
    </StudioContext>
  );
}

/** Does something once the page has nothing else to do. Answers how to call it off. */
function atRest(work: () => void): () => void {
  if (typeof requestIdleCallback !== 'function') {
    const timer = setTimeout(work, 3000);
    return () => clearTimeout(timer);
  }
  const asked = requestIdleCallback(work);
  return () => cancelIdleCallback(asked);
}

function OpenStudio({ autosave, store }: { autosave: Autosave; store: StudioStore }) {
  const router = useRouter();
  const tell = useTell();
  const edit = useRigEdit();
  const room = useStudio((s) => s.room);
  // A room is entered at once; its desk is built as soon as nothing more urgent is to do.
  const deskRoom = useDeferredValue(room);
  const plan = useLampTool((s) => s.plan);
  const isTabled = useCueTable((s) => s.open);
  const isHistory = useHistory((s) => s.open);
  const isShelf = useKept((s) => s.open);
  const isSheet = useSheet((s) => s.sheet !== null);
  const isLadder = useLadder((s) => s.asked !== null);
  const saving = useStudio((s) => s.saving);
  const level = useStudio((s) => s.level);
  const control = useBakeControl(autosave.flush);
  useEye(control.bakes.atWork);
  const [overlay, setOverlay] = useState<'list' | 'keys' | null>(null);
  const { project } = store.getState();
  useWalking();
  const isDrawn = useView((s) => s.drawn !== '');
  useWarmCues(isDrawn);
  useEffect(() => (isDrawn ? atRest(() => void loadRooms()) : undefined), [isDrawn]);
  useLatestLevel(store, control.bakes.done?.levelId ?? null, tell.fault);

  const shelf = useSkyShelf(project.id);
  useSkyPixels(shelf.images, tell.fault);
  const sky = useSkyUpload(project.id, shelf.again);
  const drop = useLevelDrop(
    project.id,
    () => {
      api
        .project(project.id)
        .then(({ level }: ProjectView) => store.setState({ level }))
        .catch(tell.fault);
    },
    sky.takeNew,
  );
  const placed = usePlacedLevel();
  const coming = [drop, placed, sky].find((c) => c.incoming !== null);

  useEffect(() => followElsewhere(project.id, autosave), [project.id, autosave]);
  useEffect(() => keepPictures(store, autosave), [store, autosave]);

  const commands = () => studioCommands(store, edit, control, { open: setOverlay }, () => router.push('/'));
  const peek = useMemo(
    () => ({
      current: () => ({ cueId: store.getState().cueId, view: useView.getState().vantage?.() ?? null }),
      back: ({ cueId, view }: Peeked) => {
        store.getState().go(cueId);
        if (view) useView.getState().stand?.(view);
      },
    }),
    [store],
  );
  useCommandKeys(commands, peek);

  const shown = useShownBake(control.bakes, level);

  return (
    <div className={styles.studio}>
      <TopLine onKeys={() => setOverlay('keys')} onCommands={() => setOverlay('list')} />
      {saving.kind === 'clash' && (
        <Alert
          banner
          type="warning"
          title="This rig was changed in another tab too, in the same places. Both stay in its history."
          action={
            <>
              <Button size="small" onClick={() => void autosave.settle('theirs').catch(tell.fault)}>
                Use the other version
              </Button>{' '}
              <Button size="small" onClick={() => void autosave.settle('mine').catch(tell.fault)}>
                Keep this version
              </Button>
            </>
          }
        />
      )}
      <ServerTrouble edits />
      <SeemsPlaced />
      <Dayline />
      <div className={styles.middle}>
        <CueRail />
        <main className={styles.stage}>
          <PartFault>
            <Viewport
              shown={shown}
              over={
                <>
                  {room === 'compare' ? <CompareOver /> : <BakeWipe />}
                  <StrollBar />
                </>
              }
            />
          </PartFault>
          <InstrumentLine control={control} />
          {room === 'lamps' && <OpenCopy />}
          <PartFault key={room}>
            {room === 'lamps' && plan && <DimmerPlan />}
            {room === 'day' && <SkyDesk shelf={shelf} onReplace={sky.take} />}
          </PartFault>
          <LookingBar />
          <PartFault>{isTabled && <CueTable />}</PartFault>
          <PartFault>{isSheet && <SheetPanel />}</PartFault>
          <PartFault>{isLadder && <LadderPanel />}</PartFault>
          <PartFault>{isHistory && <HistoryPanel autosave={autosave} />}</PartFault>
          <PartFault>{isShelf && <KeptPanel />}</PartFault>
          {coming && (
            <div className={styles.incoming}>
              <IncomingCard incoming={coming.incoming!} onCancel={coming.cancel} />
            </div>
          )}
        </main>
        <aside key={deskRoom} className={styles.desk} aria-label={`Desk of the ${deskRoom[0]!.toUpperCase()}${deskRoom.slice(1)} room`}>
          <PartFault>
            {deskRoom === 'day' && <DayDesk shelf={shelf} onSkyFiles={sky.takeNew} />}
            {deskRoom === 'lamps' && <LampsDesk />}
            {deskRoom === 'bake' && <BakeDesk control={control} />}
            {deskRoom === 'grade' && <GradeDesk />}
            {deskRoom === 'compare' && <CompareDesk newest={control.bakes.done?.id ?? null} />}
          </PartFault>
        </aside>
      </div>
      {drop.over && <DropVeil text={`Drop a level (.glb, .gltf) to take the place of ${project.name}’s, or an image for its sky`} />}
      {overlay === 'list' && <CommandList commands={commands()} onClose={() => setOverlay(null)} />}
      {overlay === 'keys' && <KeySheet commands={commands()} onClose={() => setOverlay(null)} />}
    </div>
  );
}

/** A finished bake may have laid the level out anew; then that layout is the one to show. */
function useLatestLevel(store: StudioStore, levelId: string | null, fault: (error: unknown) => void): void {
  useEffect(() => {
    const { level, project } = store.getState();
    if (!levelId || level.id === levelId) return;
    api
      .project(project.id)
      .then((view) => store.setState({ level: view.level }))
      .catch(fault);
  }, [store, levelId, fault]);
}
