import {
  cueById,
  inMotion,
  incidentEv,
  isInMotion,
  modelsOf,
  resolveCue,
  strollView,
  type Cue,
  type Lighting,
  type Rig,
  type Vantage,
} from '../../../core/rig';
import { useLampTool } from '../../lamps/lampTool';
import { isSameView, useView } from '../viewStore';
import { currentStroll, isFading, lightingNow, picturedRig, vantageOf, type StudioState, type StudioStore } from '../../state/studioStore';
import { Pacing } from './pacing';
import { pngOf } from './pngOf';
import type { Stage } from './stage';
import { useMeter } from '../meter/meterStore';
import { heard, useListening } from '../mix/listening';
import { usePicture } from '../meter/pictureStore';
import type { Reading } from '../meter/readLight';
import { useScopes } from '../meter/scopesStore';
import { useGrading } from '../../grade/gradingStore';
import { usePlan } from '../planStore';
import { useProposed } from '../proposedStore';
import { usePictures } from '../picturesStore';
import { comparedNow } from '../../compare/comparedNow';
import { useCompare } from '../../compare/compareStore';
import { sideAt, type Compared } from './compared';

const PICTURE = { width: 232, height: 156 };
/** Pictures of the cues wait until nothing has changed for this long. */
const REST_MS = 350;
/** While something moves the scopes are measured no oftener than this. */
const SCOPES_MS = 250;
/** After a movement the picture is drawn once more, in full, when this has passed. */
const SETTLE_MS = 160;

/** Parts of the rig that, changed, make the pictures of all cues others. */
const lampParts = ['lamps', 'fixtures', 'placed', 'circuits', 'glows', 'profiles', 'liveLamps', 'roles'] as const;

/** Notes how long a picture stood out since it was asked for, for whoever measures the page; the last hundred are kept. */
function note(what: string, since: number): void {
  if (performance.getEntriesByName(what, 'measure').length >= 100) performance.clearMeasures(what);
  performance.measure(what, { start: since, end: performance.now() });
}

/** Whether some circuit flickers or some lamp moves, and is shown so. */
const isMoving = (state: StudioState): boolean =>
  (useListening.getState().showsMotion || state.rehearsal !== null) && isInMotion(picturedRig(state));

/**
 * Decides when the stage draws: once for each change of the rig, of the view or of a fade, and at rest the small pictures
 * of those cues that have changed.
 */
export class Director {
  private frame = 0;
  private settle: ReturnType<typeof setTimeout> | undefined;
  private rest: ReturnType<typeof setTimeout> | undefined;
  private movedAt = -Infinity;
  private changedAt = -Infinity;
  private readonly pacing = new Pacing();
  /** The first change that the next picture shows. */
  private askedAt: number | null = null;
  /** The picture that is being drawn: the change it answers, when it was begun, whether something moved, whether it stands. */
  private underWay: { askedAt: number; startedAt: number; moving: boolean; stands: () => boolean } | null = null;
  private readonly pictured = new Map<string, string>();
  private epoch = 0;
  /** What the live shadows' cost was measured for. */
  private costed = '';
  private ranAt = -Infinity;
  private measuredAt = -Infinity;
  private measuredFor = '';
  private cursor: { x: number; y: number } | null = null;
  /** What the last picture compared; null where it is one picture. */
  private compared: Compared | null = null;
  private readonly unsubscribe: () => void;
  private readonly unlisten: () => void;
  private stopped = false;
  /** Where the file of a model lies; null while that is not known. */
  private modelUrl: (modelId: string) => string | null = () => null;
  /** Loads of baked light that are under way. */
  private awaited = 0;

  /** @param settled told whether the picture is up to date, pictures of the cues included */
  constructor(
    private readonly stage: Stage,
    private readonly store: StudioStore,
    private readonly settled: (yes: boolean) => void,
  ) {
    const unsubscribes: (() => void)[] = [useListening, useGrading, usePlan].map((store) => store.subscribe(() => this.ask()));
    unsubscribes.push(useCompare.subscribe((now, before) => now.measured === before.measured && this.ask()));
    unsubscribes.push(useProposed.subscribe(() => useListening.getState().view === 'proposed' && this.ask()));
    unsubscribes.push(useLampTool.subscribe(({ ballAt }, before) => ballAt !== before.ballAt && this.ask()));
    unsubscribes.push(useScopes.subscribe(({ open }, before) => open && !before.open && this.ask()));
    unsubscribes.push(usePicture.subscribe(({ choice }, before) => choice !== before.choice && this.ask()));
    this.unlisten = () => unsubscribes.forEach((stop) => stop());
    this.unsubscribe = store.subscribe((state, before) => {
      if (state.gone !== before.gone) this.takeVantage(state);
      if (state.strolling !== before.strolling) this.walkStroll(state);
      if (state.rig.vantages !== before.rig.vantages) this.noteVantage();
      if (state.images !== before.images || lampParts.some((part) => state.rig[part] !== before.rig[part])) this.epoch++;
      if (
        state.images !== before.images ||
        state.rig !== before.rig ||
        state.cueId !== before.cueId ||
        state.fade !== before.fade ||
        state.hour !== before.hour ||
        state.days !== before.days ||
        state.playing !== before.playing ||
        state.looking !== before.looking ||
        state.rehearsal !== before.rehearsal ||
        state.strolling !== before.strolling ||
        state.room !== before.room
      ) {
        this.changedAt = performance.now();
        this.ask();
      }
    });
  }

  /** A cue that names a vantage is looked at from there. */
  private takeVantage({ rig, gone }: StudioState): void {
    const { vantageId } = rig.cues.find((c) => c.id === gone?.cueId) ?? {};
    const vantage = rig.vantages.find((v) => v.id === vantageId);
    if (vantage) this.stage.controls.stand(vantage);
  }

  /** On a stroll it is looked from where that leads. */
  private walkStroll(state: StudioState): void {
    const stroll = currentStroll(state);
    if (stroll) this.stage.controls.stand(strollView(stroll, state.strolling!.atS));
  }

  /** The level or its baked light is another: everything is drawn anew. */
  renew(): void {
    this.epoch++;
    this.ask();
  }

  /** Baked light is on its way: no small picture is taken until it is there, as it would be taken anew. Answers what says that it is. */
  awaitLight(): () => void {
    this.awaited++;
    return () => void this.awaited--;
  }

  /** Where the files of models lie is known. */
  findModels(urlOf: (modelId: string) => string | null): void {
    this.modelUrl = urlOf;
    this.renew();
  }

  /** What is marked in the picture is another. */
  remark(): void {
    this.ask();
  }

  /** The view moved. */
  moved(): void {
    this.movedAt = performance.now();
    this.ask();
    this.noteVantage();
  }

  /** Tells which saved vantage the view is at. */
  private noteVantage(): void {
    const now = this.stage.controls.vantage();
    const standsAt = this.store.getState().rig.vantages.find((v) => isSameView(v, now))?.id ?? null;
    if (useView.getState().standsAt !== standsAt) useView.setState({ standsAt });
  }

  point(cursor: { x: number; y: number } | null): void {
    this.cursor = cursor;
    if (this.askedAt === null) this.read();
  }

  private ask(): void {
    this.settled(false);
    clearTimeout(this.rest);
    this.askedAt ??= performance.now();
    this.nextFrame();
  }

  private nextFrame(): void {
    if (!this.frame && !this.stopped) this.frame = requestAnimationFrame(() => this.onFrame());
  }

  /** One picture at a time: the next is begun when the last one stands, so that none waits in a queue behind old ones. */
  private onFrame(): void {
    this.frame = 0;
    if (this.stopped) return;
    const { underWay } = this;
    if (underWay) {
      if (!underWay.stands()) return this.nextFrame();
      this.underWay = null;
      if (underWay.moving) this.pacing.took(performance.now() - underWay.startedAt);
      note(underWay.moving ? 'moving picture' : 'picture', underWay.askedAt);
    }
    if (this.askedAt !== null && this.stage.hasLevel) this.draw(this.askedAt);
  }

  private draw(askedAt: number): void {
    this.askedAt = null;
    const now = performance.now();
    this.runDay(now);
    const state = this.store.getState();
    const inGame = isMoving(state);
    const strolls = state.strolling?.playing === true && currentStroll(state) !== null;
    const fading = isFading(state, now) || state.playing || state.rehearsal !== null || strolls || inGame;
    // Where pictures take long, one that a change asks for is drawn coarsely first, as a value that is dragged brings the next.
    const isHeld = now - this.movedAt < SETTLE_MS || (this.pacing.detail < 1 && now - this.changedAt < SETTLE_MS);
    const moving = fading || isHeld;
    const listening = useListening.getState();
    const still = heard(lightingNow(state, now), listening);
    const lighting = inGame ? inMotion(still, picturedRig(state).circuits, state.rehearsal?.atS ?? now / 1000) : still;
    this.stage.view = listening.view;
    this.stage.quality = usePicture.getState().choice;
    this.stage.markBloom = useGrading.getState().markBloom && state.room === 'grade';
    this.stage.mapSizes = state.level.summary.lightmaps.maps;
    const rig = picturedRig(state);
    this.stage.setRoles(rig.roles);
    this.stage.lit.shadowReachM = rig.shadowReachM;
    this.stage.lit.lampBudget = rig.liveLamps;
    this.stage.lit.standModels(
      modelsOf(rig),
      (id) => this.modelUrl(id),
      () => this.renew(),
    );
    const plan = usePlan.getState();
    this.stage.showPlan(plan.on, plan.cutM);
    this.stage.lit.putBall(useLampTool.getState().ballAt);
    const detail = moving ? this.pacing.detail : 1;
    this.compared = plan.on ? null : comparedNow(state, lighting);
    const ev100 = this.compared ? this.stage.drawCompared(this.compared, moving, detail)[0] : this.stage.draw(lighting, moving, detail);
    this.underWay = { askedAt, startedAt: now, moving, stands: this.stage.fence() };
    this.nextFrame();
    if (usePicture.getState().shown !== this.stage.shownQuality) usePicture.setState({ shown: this.stage.shownQuality });
    useMeter.setState({ walking: this.stage.controls.walking, ev100, incidentEv: incidentEv(lighting) });
    if (!fading) this.read();
    if (fading || this.stage.isUnfinished) return this.ask();
    if (state.fade && !isFading(state, now)) this.store.setState({ fade: null });
    clearTimeout(this.settle);
    this.measure(lighting, now, moving);
    if (moving) this.settle = setTimeout(() => this.ask(), SETTLE_MS);
    else this.rest = setTimeout(() => this.takePicture(), REST_MS);
  }

  /** Moves the hour on while the day runs. */
  private runDay(now: number): void {
    const { playing, pace, rig, pass, rehearsal, passGame, strolling, passStroll } = this.store.getState();
    const seconds = Math.min(0.5, (now - this.ranAt) / 1000);
    this.ranAt = now;
    if (rehearsal) passGame(seconds);
    if (strolling?.playing) passStroll(seconds);
    if (playing) pass((seconds * 24 * pace) / (rig.day.lengthMin * 60));
  }

  /** Measures what the picture takes where other steps of it are on than before. */
  private measurePicture(): void {
    const lighting = heard(lightingNow(this.store.getState(), performance.now()), useListening.getState());
    const { fog, grade } = lighting;
    const { choice } = usePicture.getState();
    const { cueId, hour } = this.store.getState();
    const steps = JSON.stringify([
      this.epoch,
      cueId,
      hour === null,
      choice,
      fog !== null,
      grade.bloom.amount > 0,
      grade.smoothing,
      this.stage.drawnSize(),
    ]);
    if (steps === this.measuredFor) return;
    this.measuredFor = steps;
    const costs = this.stage.pictureCost(lighting);
    usePicture.setState({ costs });
    if (costs && this.pacing.detail === 1) this.pacing.took(costs.frame);
  }

  /** Measures the picture for the scopes, where they are open: at rest, and now and then while it moves. */
  private measure(lighting: Lighting, now: number, moving: boolean): void {
    if (this.compared) {
      if (!moving) useCompare.setState({ measured: this.stage.measureCompared(this.compared) });
      return;
    }
    const { open } = useScopes.getState();
    if (!open || (moving && now - this.measuredAt < SCOPES_MS)) return;
    this.measuredAt = now;
    useScopes.setState({ scopes: this.stage.scopes(lighting) });
  }

  private read(): void {
    useMeter.setState({ reading: this.cursor && this.readAt(this.cursor) });
  }

  private readAt({ x, y }: { x: number; y: number }): Reading | null {
    if (this.compared) {
      const under = sideAt(this.compared, x);
      return this.stage.read(this.compared.sides[under.side].lighting, under.x, y);
    }
    return this.stage.read(heard(lightingNow(this.store.getState(), performance.now()), useListening.getState()), x, y);
  }

  /** At rest: measures the live shadows where their choice is another, takes the picture of one cue that has changed, and
   * comes back for the next. */
  private takePicture(): void {
    // What is still fetched, or drawn, is part of the picture.
    if (this.stage.lit.isFetching || this.awaited > 0 || this.underWay) {
      this.rest = setTimeout(() => this.takePicture(), SETTLE_MS);
      return;
    }
    const { rig, level, images } = this.store.getState();
    const choice = `${this.epoch} ${rig.shadowReachM}`;
    if (this.costed !== choice) {
      const shadowCost = this.stage.shadowCost();
      useMeter.setState({ shadowCost });
      if (shadowCost) this.costed = choice;
    }
    this.measurePicture();
    const vantageFor = (of: Cue) => vantageOf({ rig, level }, of) ?? this.stage.wholeView();
    const cue = rig.cues.find((c) => this.pictured.get(c.id) !== this.keyOf(rig, c, vantageFor(c)));
    if (!cue) return this.settled(true);
    const vantage = vantageFor(cue);
    this.pictured.set(cue.id, this.keyOf(rig, cue, vantage));
    const pixels = this.stage.picture(resolveCue(rig, cueById(rig, cue.id), images), vantage, PICTURE.width, PICTURE.height);
    void pngOf(pixels, PICTURE.width, PICTURE.height).then((blob) => usePictures.getState().put(cue.id, URL.createObjectURL(blob)));
    this.rest = setTimeout(() => this.takePicture(), 0);
  }

  /** Everything that a cue's picture depends on; of the rig, all but what the epoch counts. */
  private keyOf(rig: Rig, { holds, hour }: Cue, { eye, target, fovDeg }: Vantage): string {
    const { place, day, airId, airs, exposure, fog, volumes, grade, weather, water, materials, night, hidden, openings } = rig;
    return JSON.stringify([
      [this.epoch, eye, target, fovDeg, holds, hour],
      [place, day, airId, airs, exposure, fog, volumes, grade, weather, water, materials, night, hidden, openings],
    ]);
  }

  stop(): void {
    this.stopped = true;
    cancelAnimationFrame(this.frame);
    clearTimeout(this.settle);
    clearTimeout(this.rest);
    this.unsubscribe();
    this.unlisten();
  }
}
