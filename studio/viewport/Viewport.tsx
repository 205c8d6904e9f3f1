'use client';

import { Button, Progress } from 'antd';
import { useCallback, useEffect, useRef, useState, type ReactNode } from 'react';
import { Vector3 } from 'three';
import type { StoredStems } from '../../core/bake';
import type { ObjectFacts } from '../../core/objects';
import { samePlacing, type Placing } from '../../core/units';
import { fileUrl } from '../api/client';
import type { ShownBake } from '../bake/shownBake';
import { useOtherBakes } from '../compare/useOtherBakes';
import { useStudioStore } from '../state/context';
import { currentCue, vantageOf } from '../state/studioStore';
import { load } from './load';
import { loadStems } from './level/loadStems';
import { Director } from './renderer/director';
import { Stage } from './renderer/stage';
import { useModels } from '../lamps/useModels';
import { useBallGesture } from '../lamps/useBallGesture';
import { useLampGesture, useLampMarks } from '../lamps/useLampGesture';
import { ChoiceRect } from '../objects/ChoiceRect';
import { useObjectGesture, useOutlines } from '../objects/useObjectGesture';
import { pauseStroll } from '../strolls/pauseStroll';
import { useStrollGesture } from '../strolls/useStrollGesture';
import { useWayLine } from '../strolls/useWayLine';
import { placeInBox } from './gestures/placeInBox';
import { useHeightGesture } from './gestures/useHeightGesture';
import { useSunGesture } from './gestures/useSunGesture';
import { usePlaceMenu } from './usePlaceMenu';
import { PlanBadge } from './PlanBadge';
import { VantageMenu } from './VantageMenu';
import { NO_VIEW, useView } from './viewStore';
import styles from './viewport.module.css';

/**
 * The picture: the level under the light of the moment.
 *
 * @param shown the bake that lights it, the hash of the level as it is laid out for that, and what of a bake at work lies over it, and those
 *   for openings that are open
 * @param over what stands over it
 */
export function Viewport({ shown: { bake, levelHash, bands, opened }, over }: { shown: ShownBake; over?: ReactNode }) {
  const store = useStudioStore();
  const placing = useRef<Placing | null>(null);
  const stemHashes = bake?.maps.flatMap((m) => [m.cover, ...Object.values(m.parts).flat()]).join() ?? '';
  const [stand, setStand] = useState<{ stage: Stage; director: Director } | null>(null);
  const [fault, setFault] = useState<string | null>(null);
  const [settled, setSettled] = useState(false);
  const [loaded, setLoaded] = useState({ level: '', stems: '' });
  const [levelShare, setLevelShare] = useState(0);
  const [stemShare, setStemShare] = useState(0);
  const stems = useRef<Promise<StoredStems[]> | null>(null);
  const [attempt, setAttempt] = useState(0);
  const [bandCount, setBandCount] = useState(0);
  const [openedCount, setOpenedCount] = useState(0);

  const attach = useCallback(
    (canvas: HTMLCanvasElement) => {
      let stage: Stage;
      try {
        stage = new Stage(canvas, () => director.moved());
      } catch (error) {
        console.error(error);
        setFault('This browser gives Basil no WebGL 2 to draw with. Turn on hardware acceleration, or use another browser.');
        return;
      }
      const director = new Director(stage, store, setSettled);
      const observer = new ResizeObserver(([entry]) => {
        const { width, height } = entry!.contentRect;
        if (width < 1 || height < 1) return;
        stage.resize(width, height);
        director.moved();
      });
      observer.observe(canvas.parentElement!);
      setStand({ stage, director });
      useView.setState({
        vantage: () => stage.controls.vantage(),
        stand: (vantage) => stage.controls.stand(vantage ?? stage.wholeView()),
        placeForBall: () => stage.placeForBall(),
        walk: (step, seconds) => {
          pauseStroll(store);
          return stage.controls.walk(step, seconds);
        },
        standAt: (x, y) => stage.standAt(x, y),
        crouch: (crouched) => stage.controls.crouch(crouched),
        glows: () => stage.lit.glows(),
        picture: (lighting, width, height, from) => stage.picture(lighting, from ?? stage.controls.vantage(), width, height),
        radiances: (lighting, width, height) => stage.radiances(lighting, stage.controls.vantage(), width, height),
        objects: () => stage.objects(),
        names: () => namesIn(stage.lit.level?.index.facts() ?? []),
        fileMaterials: () => stage.lit.level?.file ?? { names: [], variants: [] },
        facts: () => stage.lit.level?.index.facts() ?? [],
        shapesLike: (names) => stage.lit.level?.index.shapesLike(names) ?? new Map(),
        objectsWithin: (rect) => stage.lit.level?.objectsWithin(rect, stage.camera) ?? [],
        objectAt: (x, y) => stage.lit.level?.pick(x, y, stage.controls.camera)?.object ?? null,
        inPicture: () => stage.objectsInPicture(),
        cast: (from, direction) => stage.cast(from, direction),
        castObject: (from, direction) => stage.lit.level?.cast(new Vector3(...from), new Vector3(...direction))?.object ?? null,
      });
      return () => {
        observer.disconnect();
        director.stop();
        stage.dispose();
        useView.setState(NO_VIEW);
      };
    },
    [store],
  );

  useEffect(() => {
    if (!stand) return;
    const { stage, director } = stand;
    return load('The level could not be fetched.', setFault, async (signal) => {
      const { level } = store.getState();
      // A level that is read in another unit lies elsewhere.
      const isElsewhere = !stage.hasLevel || !samePlacing(placing.current, level.placing);
      placing.current = level.placing;
      await stage.lit.loadLevel(fileUrl(levelHash, 'level'), signal, setLevelShare);
      if (signal.aborted) return;
      setLoaded({ level: levelHash, stems: '' });
      useView.setState({ drawn: levelHash, baked: '' });
      if (isElsewhere) stage.controls.stand(vantageOf(store.getState(), currentCue(store.getState())) ?? stage.wholeView());
      director.renew();
      await stage.prepareToPick();
    });
  }, [stand, levelHash, store, attempt]);

  // The stems are fetched beside the level.
  useEffect(() => {
    if (!stand) return;
    const abort = new AbortController();
    stems.current = bake && loadStems(bake, abort.signal, setStemShare);
    // What goes wrong is told where they are taken in.
    stems.current?.catch(() => undefined);
    return () => abort.abort();
    // The bake is polled: what matters is whether its stems are others.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [stand, stemHashes, attempt]);

  useEffect(() => {
    if (!stand || loaded.level !== levelHash) return;
    const { stage, director } = stand;
    return load('The baked light could not be fetched.', setFault, async (signal) => {
      const isThere = director.awaitLight();
      await stage.lit.takeBake(bake && bake.plan, stems.current, signal).finally(isThere);
      if (signal.aborted) return;
      setLoaded({ level: levelHash, stems: stemHashes });
      setBandCount(0);
      setOpenedCount(0);
      useView.setState({ baked: bake?.id ?? '', others: [] });
      director.renew();
    });
    // The bake is polled: what matters is whether its stems are others.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [stand, loaded.level, levelHash, stemHashes, attempt]);

  const bandHashes = bands?.bands.map((b) => b.hash).join() ?? '';
  useEffect(() => {
    if (!stand || loaded.level !== levelHash || loaded.stems !== stemHashes) return;
    const { stage, director } = stand;
    // What cannot be fetched is shown when the bake is done.
    const changed = (count: number) => {
      setBandCount(count);
      director.remark();
    };
    stage.lit.showBands(bands, changed).catch((error: unknown) => console.error(error));
    // The bands are polled with the bake: what matters is whether they are others.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [stand, loaded, levelHash, stemHashes, bandHashes]);

  const openedIds = opened.map((b) => b.id).join();
  useEffect(() => {
    if (!stand || !bake || opened.length === 0 || loaded.level !== levelHash || loaded.stems !== stemHashes) return;
    const { stage, director } = stand;
    return load('The light of openings could not be fetched.', setFault, async (signal) => {
      const closed = { maps: bake.maps, stems: (await stems.current) ?? [] };
      for (const over of opened) {
        const maps = await loadStems(over, signal, () => undefined, closed);
        await stage.lit.takeOpened(over.open ?? [], over.plan, maps, signal);
        if (signal.aborted) return;
      }
      setOpenedCount(opened.length);
      director.renew();
    });
    // The bakes are polled: what matters is whether they are others.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [stand, loaded, levelHash, stemHashes, openedIds, attempt]);

  useOtherBakes(stand, bake && loaded.level === levelHash && loaded.stems === stemHashes ? bake.id : null, setFault);

  const { models } = useModels();
  useEffect(() => {
    if (!stand) return;
    stand.director.findModels((id) => {
      const model = models.find((m) => m.id === id);
      return model ? fileUrl(model.hash, 'level') : null;
    });
  }, [stand, models]);

  const sunGesture = useSunGesture(stand?.stage ?? null);
  const heightGesture = useHeightGesture(stand?.stage ?? null);
  const ballGesture = useBallGesture(stand?.stage ?? null);
  const lampGesture = useLampGesture(stand?.stage ?? null);
  const objectGesture = useObjectGesture(stand?.stage ?? null);
  const strollGesture = useStrollGesture(stand?.stage ?? null);
  useLampMarks(stand);
  useOutlines(stand, loaded.level);
  useWayLine(stand);
  const gesture = (name: keyof typeof sunGesture) => (event: React.PointerEvent<HTMLElement>) => {
    if (name === 'onPointerDownCapture' && event.target instanceof HTMLCanvasElement) pauseStroll(store);
    sunGesture[name](event);
    heightGesture[name](event);
    ballGesture[name](event);
    lampGesture[name](event);
    objectGesture[name](event);
    strollGesture[name](event);
  };

  const place = usePlaceMenu();

  const again = () => {
    setFault(null);
    setAttempt(attempt + 1);
  };
  const doing = loaded.level !== levelHash ? 'Reading the level' : loaded.stems !== stemHashes ? 'Reading the baked light' : null;

  const point = (event: React.PointerEvent<HTMLElement>) => {
    const [x, y] = placeInBox(event);
    stand?.director.point({ x, y });
  };

  return (
    <div className={styles.surround}>
      <div
        className={styles.picture}
        data-settled={settled && doing === null}
        data-baked={bake?.id ?? ''}
        data-bands={bandCount}
        data-opened={openedCount}
        data-testid="picture"
        onPointerDownCapture={gesture('onPointerDownCapture')}
        onPointerMoveCapture={gesture('onPointerMoveCapture')}
        onPointerUpCapture={gesture('onPointerUpCapture')}
        onPointerMove={point}
        onWheel={() => pauseStroll(store)}
        {...place.handlers}
        onPointerLeave={() => stand?.director.point(null)}
      >
        <canvas
          ref={attach}
          data-testid="picture"
          className={styles.canvas}
          tabIndex={0}
          aria-label="The level under the light of the moment"
        />
        <ChoiceRect />
        <PlanBadge />
        <VantageMenu />
        {over}
        {fault && (
          <div className={styles.notice} role="alert">
            {fault} {stand && <Button onClick={again}>Try again</Button>}
          </div>
        )}
        {doing && !fault && (
          <div className={loaded.level ? styles.corner : styles.notice} role="status">
            {doing}
            <Progress
              percent={Math.round((loaded.level === levelHash ? stemShare : levelShare) * 100)}
              size="small"
              showInfo={false}
              aria-label={doing}
            />
          </div>
        )}
      </div>
      {place.menu}
    </div>
  );
}

/** Names of the materials and groups of some objects, in order. */
function namesIn(objects: readonly ObjectFacts[]): { materials: string[]; groups: string[] } {
  const sorted = (names: Iterable<string>) =>
    [...new Set(names)].filter(Boolean).sort((a, b) => a.localeCompare(b, undefined, { numeric: true }));
  return { materials: sorted(objects.flatMap((o) => o.materials)), groups: sorted(objects.flatMap((o) => o.groups)) };
}
