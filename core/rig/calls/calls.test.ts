import { luminance } from '../../units';
import {
  FULL_MOON,
  addCall,
  beginCalls,
  callLight,
  callsInOrder,
  checkRehearsal,
  checkRig,
  defaultRig,
  defaultWhen,
  happen,
  incidentEv,
  moonPhase,
  passSeconds,
  rehearse,
  removeCall,
  removeCircuit,
  removeCue,
  resolveCue,
  resolveHour,
  setCall,
  standingStep,
  timedCue,
  type Call,
  type CallState,
  type CallWhen,
  type Rig,
} from '..';

const FULL_LEVEL = { on: true, level: 1, tint: '#ffffff' };

/** A rig of three cues and a circuit that is off by day, with calls as they are given. */
function rigWith(...calls: (Partial<Call> & { id: string; when: CallWhen })[]): Rig {
  const rig = defaultRig();
  rig.day.lengthMin = 24;
  rig.day.startHour = 12;
  rig.cues.push(
    { ...timedCue('alarm', 'Alarm', 0, 4), kind: 'free', fadeS: 4 },
    { ...timedCue('dark', 'Dark', 0, 0), kind: 'free', fadeS: 2 },
  );
  rig.circuits = [{ id: 'posts', name: 'Posts', rule: { by: 'off' }, bounce: 1, flicker: null }];
  rig.calls = calls.map((call) => ({
    name: call.id,
    priority: 10,
    cueId: 'alarm',
    circuits: {},
    fadeS: null,
    clock: null,
    mayBegin: true,
    ...call,
  }));
  return checkRig(rig);
}
const onEvent = (event: string, until: Extract<CallWhen, { by: 'event' }>['until'] = { is: 'over' }): CallWhen => ({
  by: 'event',
  event,
  until,
});
const byDay = (from: number, to: number, days: Partial<Extract<CallWhen, { by: 'day' }>['days']> = {}): CallWhen => ({
  by: 'day',
  from: { at: 'hour', hour: from },
  to: { at: 'hour', hour: to },
  days: { every: 1, first: 0, moon: null, ...days },
});
const box: CallWhen = { by: 'place', min: [0, 0, 0], max: [2, 3, 2], blendM: 4 };
const shares = (rig: Rig, state: CallState) =>
  Object.fromEntries(callsInOrder(rig, state).map(({ call, standing }) => [call.id, Number(standing.share.toFixed(3))]));

describe('calls by events', () => {
  it('come over their fade, hold until the event is over, and go over it', () => {
    const rig = rigWith({ id: 'breach', when: onEvent('gate breached') });
    const called = happen(rig, beginCalls(rig), { event: 'gate breached' });
    expect(shares(rig, called)).toEqual({ breach: 0 });
    expect(shares(rig, passSeconds(rig, called, 1))).toEqual({ breach: 0.25 });
    const held = passSeconds(rig, called, 60);
    expect(shares(rig, held)).toEqual({ breach: 1 });
    const going = passSeconds(rig, happen(rig, held, { over: 'gate breached' }), 3);
    expect(shares(rig, going)).toEqual({ breach: 0.25 });
    expect(shares(rig, passSeconds(rig, going, 2))).toEqual({});
  });

  it('go on from where they are when they are called again on their way out', () => {
    const rig = rigWith({ id: 'breach', when: onEvent('gate') });
    const half = passSeconds(rig, happen(rig, beginCalls(rig), { event: 'gate' }), 2);
    const going = passSeconds(rig, happen(rig, half, { over: 'gate' }), 1);
    expect(shares(rig, going)).toEqual({ breach: 0.25 });
    expect(shares(rig, passSeconds(rig, happen(rig, going, { event: 'gate' }), 1))).toEqual({ breach: 0.5 });
  });

  it('hold for their seconds, counted anew by each event', () => {
    const rig = rigWith({ id: 'flash', when: onEvent('bell', { is: 'after', seconds: 5 }), fadeS: 0 });
    const rung = happen(rig, beginCalls(rig), { event: 'bell' });
    expect(shares(rig, passSeconds(rig, rung, 4.9))).toEqual({ flash: 1 });
    expect(shares(rig, passSeconds(rig, rung, 5.2))).toEqual({});
    const again = happen(rig, passSeconds(rig, rung, 4), { event: 'bell' });
    expect(shares(rig, passSeconds(rig, again, 4))).toEqual({ flash: 1 });
  });

  it('are kept: their cue stands from then on, and the next one goes over it', () => {
    const rig = rigWith(
      { id: 'on', when: onEvent('power back', { is: 'kept' }) },
      { id: 'off', when: onEvent('power out', { is: 'kept' }), cueId: 'dark' },
    );
    const back = passSeconds(rig, happen(rig, beginCalls(rig), { event: 'power back' }), 4.2);
    expect(back.baseId).toBe('alarm');
    expect(shares(rig, back)).toEqual({});
    expect(passSeconds(rig, happen(rig, back, { event: 'power out' }), 2.2).baseId).toBe('dark');
  });

  it('kept, leave the circuits that they switch as they are switched, until their event is over', () => {
    const rig = rigWith({
      id: 'struck',
      when: onEvent('lamp struck', { is: 'kept' }),
      cueId: null,
      fadeS: 1,
      circuits: { posts: FULL_LEVEL },
    });
    const gain = (state: CallState) => luminance(callLight(rig, state).circuits.find((c) => c.id === 'posts')!.gain);
    const struck = passSeconds(rig, happen(rig, beginCalls(rig), { event: 'lamp struck' }), 5);
    expect(struck).toMatchObject({ baseId: null, kept: ['struck'] });
    expect(gain(struck)).toBe(1);
    expect(standingStep(rig, struck).circuits).toEqual({ posts: FULL_LEVEL });
    const going = happen(rig, struck, { over: 'lamp struck' });
    expect(gain(going)).toBe(1);
    expect(gain(passSeconds(rig, going, 0.5))).toBeCloseTo(0.5, 6);
    expect(gain(passSeconds(rig, going, 2))).toBe(0);
  });

  it('kept, give way to what stood before once their event is over', () => {
    const rig = rigWith(
      { id: 'on', when: onEvent('power back', { is: 'kept' }) },
      { id: 'off', when: onEvent('power out', { is: 'kept' }), cueId: 'dark' },
    );
    const both = ['power back', 'power out'].reduce((s, event) => passSeconds(rig, happen(rig, s, { event }), 5), beginCalls(rig));
    expect(both).toMatchObject({ baseId: 'dark', kept: ['on', 'off'] });
    const back = happen(rig, both, { over: 'power out' });
    expect(back.baseId).toBe('alarm');
    expect(shares(rig, back)).toEqual({ off: 1 });
    expect(shares(rig, passSeconds(rig, back, 3))).toEqual({});
    expect(passSeconds(rig, happen(rig, back, { over: 'power back' }), 5)).toMatchObject({ baseId: null, kept: [] });
  });

  it('are kept under another call only once that one is gone', () => {
    const rig = rigWith(
      { id: 'low', when: onEvent('low'), priority: 1, cueId: 'dark' },
      { id: 'kept', when: onEvent('kept', { is: 'kept' }), priority: 5 },
    );
    const both = happen(rig, happen(rig, beginCalls(rig), { event: 'low' }), { event: 'kept' });
    const held = passSeconds(rig, both, 10);
    expect(held.baseId).toBeNull();
    expect(passSeconds(rig, happen(rig, held, { over: 'low' }), 3).baseId).toBe('alarm');
  });

  it('take no notice of events that none waits for', () => {
    const rig = rigWith({ id: 'breach', when: onEvent('gate') });
    const begun = beginCalls(rig);
    expect(happen(rig, begun, { event: 'rain' })).toEqual(begun);
  });
});

describe('calls by the day', () => {
  it.each([
    ['within a span', byDay(18, 22), 0, 19, true],
    ['at its first moment', byDay(18, 22), 0, 18, true],
    ['no more at its last', byDay(18, 22), 0, 22, false],
    ['over midnight, before it', byDay(22, 4), 0, 23, true],
    ['over midnight, after it', byDay(22, 4), 1, 3, true],
    ['every third day, on one', byDay(18, 22, { every: 3 }), 3, 19, true],
    ['every third day, on another', byDay(18, 22, { every: 3 }), 4, 19, false],
    ['every third night, past its midnight', byDay(22, 4, { every: 3 }), 4, 2, true],
    ['counted from one of them, before it', byDay(18, 22, { every: 3, first: 4 }), 1, 19, true],
    ['counted from one of them, beside it', byDay(18, 22, { every: 3, first: 4 }), 3, 19, false],
    ['all day from a moment to the same', byDay(6, 6), 0, 5, true],
  ])('%s', (_, when, day, hour, holds) => {
    const rig = rigWith({ id: 'span', when });
    expect(standingStep(rig, beginCalls(rig, { day, hour })).calls).toEqual(holds ? ['span'] : []);
  });

  it('follow sunset and sunrise of the day that it is', () => {
    const night = { ...defaultWhen('day') } as Extract<CallWhen, { by: 'day' }>;
    const rig = rigWith({ id: 'night', when: night });
    const holds = (hour: number, day = 0) => standingStep(rig, beginCalls(rig, { hour, day })).calls.length > 0;
    // At 42 N in June the sun sets about half past seven in this place, in December about half past four.
    expect([holds(12), holds(19), holds(21), holds(1, 1), holds(6, 1)]).toEqual([false, false, true, true, false]);
    const winter = { ...rig, place: { ...rig.place, date: '2026-12-12' } };
    expect(standingStep(winter, beginCalls(winter, { hour: 18 })).calls).toEqual(['night']);
  });

  it('know the full moon, judged once a night', () => {
    const rig = rigWith({ id: 'moon', when: byDay(20, 5, { moon: FULL_MOON }) });
    // Full moons of 2026 as almanacs have them: 29 June 23:57, 29 July 14:36 (UTC); the rig's date is 12 June.
    const nights = Array.from({ length: 60 }, (_, day) => day).filter(
      (day) => standingStep(rig, beginCalls(rig, { day, hour: 23 })).calls.length > 0,
    );
    expect(nights).toContain(17);
    expect(nights).toContain(47);
    expect(nights.every((day) => Math.abs(day - 17) <= 1 || Math.abs(day - 47) <= 1)).toBe(true);
    for (const day of nights) expect(standingStep(rig, beginCalls(rig, { day: day + 1, hour: 4 })).calls).toEqual(['moon']);
    expect(moonPhase(rig, { day: 17, hour: 24.95 })).toBeCloseTo(0.5, 3);
  });

  it('hold all day where the sun stays down, and never where it stays up', () => {
    const polar = rigWith({ id: 'night', when: defaultWhen('day') });
    polar.place = { ...polar.place, latitudeDeg: 78 };
    expect(standingStep(polar, beginCalls(polar, { hour: 0 })).calls).toEqual([]);
    const winter = { ...polar, place: { ...polar.place, date: '2026-12-21' } };
    expect(standingStep(winter, beginCalls(winter, { hour: 12 })).calls).toEqual(['night']);
  });

  it('wait for the next time where they may not begin with the game', () => {
    const rig = rigWith({ id: 'span', when: byDay(11, 13), mayBegin: false, fadeS: 0 });
    const begun = beginCalls(rig);
    expect(shares(rig, begun)).toEqual({});
    // A day of 24 minutes: an hour is a minute.
    expect(shares(rig, passSeconds(rig, begun, 30))).toEqual({});
    expect(shares(rig, passSeconds(rig, begun, 23.5 * 60))).toEqual({ span: 1 });
  });
});

describe('calls by a place', () => {
  it.each([
    ['nowhere', null, 0],
    ['within the box', [1, 1, 1], 1],
    ['on its face', [2, 1, 1], 1],
    ['half its blend distance away', [4, 1, 1], 0.5],
    ['beyond a corner', [5, 1, 6], 0],
    ['at its blend distance', [6, 1, 1], 0],
  ] as const)('%s', (_, at, share) => {
    const rig = rigWith({ id: 'room', when: box, fadeS: 0 });
    const there = passSeconds(rig, happen(rig, beginCalls(rig), { at: at && [...at] }), 0.1);
    expect(callsInOrder(rig, there)[0]?.standing.share ?? 0).toBeCloseTo(share, 9);
  });

  it('are left the way they were entered', () => {
    const rig = rigWith({ id: 'room', when: box });
    const inside = passSeconds(rig, happen(rig, beginCalls(rig), { at: [1, 1, 1] }), 5);
    expect(shares(rig, inside)).toEqual({ room: 1 });
    expect(shares(rig, passSeconds(rig, happen(rig, inside, { at: [9, 1, 9] }), 5))).toEqual({});
  });
});

describe('calls at once', () => {
  const two = (first: number, second: number) =>
    rigWith(
      { id: 'a', when: onEvent('a'), priority: first, fadeS: 0, circuits: { posts: FULL_LEVEL } },
      { id: 'b', when: onEvent('b'), priority: second, fadeS: 0, cueId: 'dark' },
    );
  it.each([
    ['the higher, called first', 20, 10, ['a', 'b'], 'alarm'],
    ['the higher, called last', 20, 10, ['b', 'a'], 'alarm'],
    ['of equals the last', 10, 10, ['a', 'b'], 'dark'],
    ['of equals the last, the other way round', 10, 10, ['b', 'a'], 'alarm'],
  ])('are seen by %s', (_, first, second, events, cueId) => {
    const rig = two(first, second);
    const state = events.reduce((s, event) => passSeconds(rig, happen(rig, s, { event }), 1), beginCalls(rig));
    expect(standingStep(rig, state)).toMatchObject({ cueId, circuits: { posts: FULL_LEVEL } });
    const [one] = standingStep(rig, state).calls;
    const over = happen(rig, state, { over: one! });
    expect(standingStep(rig, over).cueId).toBe(cueId === 'alarm' ? 'dark' : 'alarm');
  });
});

describe('calls and the clock', () => {
  it('move it at once, or over seconds, and forwards alone', () => {
    const clock = { to: { at: 'hour', hour: 9 }, overS: 0, pace: 1 } as const;
    const rig = rigWith({ id: 'sleep', when: onEvent('sleep'), cueId: null, clock });
    expect(happen(rig, beginCalls(rig), { event: 'sleep' })).toMatchObject({ day: 1, hour: 9 });
    setCall(rig, 'sleep', { clock: { ...clock, overS: 10 } });
    const half = passSeconds(rig, happen(rig, beginCalls(rig), { event: 'sleep' }), 5);
    expect(half.hour + 24 * half.day).toBeCloseTo(12 + 10.5, 6);
    const there = passSeconds(rig, half, 5);
    expect(there.hour + 24 * there.day).toBeCloseTo(33, 6);
  });

  it('slow and stop it while they hold', () => {
    const rig = rigWith({ id: 'stop', when: onEvent('cutscene'), cueId: null, clock: { to: null, overS: 0, pace: 0 } });
    const stopped = passSeconds(rig, happen(rig, beginCalls(rig), { event: 'cutscene' }), 60);
    expect(stopped.hour).toBe(12);
    expect(passSeconds(rig, happen(rig, stopped, { over: 'cutscene' }), 60).hour).toBeCloseTo(13, 3);
  });
});

describe('light under calls', () => {
  it('is the day’s without one, a cue’s in full, and between them by shares', () => {
    const rig = rigWith({ id: 'breach', when: onEvent('gate') });
    const begun = beginCalls(rig);
    expect(incidentEv(callLight(rig, begun))).toBeCloseTo(incidentEv(resolveHour(rig, 12)), 6);
    const called = happen(rig, begun, { event: 'gate' });
    const full = callLight(rig, passSeconds(rig, called, 5));
    const alarm = resolveCue(
      rig,
      rig.cues.find((c) => c.id === 'alarm')!,
    );
    expect(full.exposure).toEqual(alarm.exposure);
    expect(full.suns).toEqual(alarm.suns);
    const half = passSeconds(rig, called, 2);
    const noon = resolveHour(rig, half.hour);
    expect(callLight(rig, half).exposure.lowEv).toBeCloseTo((noon.exposure.lowEv + alarm.exposure.lowEv) / 2, 6);
  });

  it('has the circuits that a call switches, and their glows', () => {
    const rig = rigWith({ id: 'lamps', when: onEvent('power'), cueId: null, fadeS: 2, circuits: { posts: { ...FULL_LEVEL, level: 0.5 } } });
    rig.glows = [
      { id: 'bulb', material: 'Bulb', objects: null, circuitId: 'posts', emission: { luminance: 800, color: '#ffffff' }, shownEv: 0 },
    ];
    const half = passSeconds(rig, happen(rig, beginCalls(rig), { event: 'power' }), 1);
    const gain = (id: string) => luminance(callLight(rig, half).circuits.find((c) => c.id === id)!.gain);
    expect(gain('posts')).toBeCloseTo(0.25, 6);
    expect(gain('glow bulb')).toBeCloseTo(200, 3);
  });
});

describe('a rehearsal', () => {
  it('tells what stands from each moment on at which it changes', () => {
    const rig = rigWith(
      { id: 'breach', when: onEvent('gate', { is: 'after', seconds: 5 }) },
      { id: 'room', when: box, cueId: 'dark', priority: 20, circuits: { posts: FULL_LEVEL } },
    );
    const steps = rehearse(
      rig,
      checkRehearsal({
        forS: 20,
        happenings: [
          { atS: 8, at: [1, 1, 1] },
          { atS: 2, event: 'gate' },
          { atS: 12, at: null },
        ],
      }),
    );
    expect(steps.map(({ atS, cueId, calls }) => [atS, cueId, calls])).toEqual([
      [0, null, []],
      [2, 'alarm', ['breach']],
      [7, null, []],
      [8, 'dark', ['room']],
      [12, null, []],
    ]);
    expect(steps[3]!.circuits).toEqual({ posts: FULL_LEVEL });
  });

  it.each([
    [{ happenings: [] }, '"forS" is required'],
    [{ forS: 5, happenings: [{ atS: 1 }] }, 'happenings[0]'],
    [{ forS: 5, happenings: [{ atS: -1, event: 'x' }] }, 'happenings[0]'],
    [{ forS: 5, begin: { hour: 24 } }, '"begin.hour"'],
  ])('refuses %j', (document, words) => {
    expect(() => checkRehearsal(document)).toThrow(words);
  });
});

describe('edits of calls', () => {
  it('add, change and take away, and keep no word of what is gone', () => {
    const rig = rigWith();
    const { id } = addCall(rig, defaultWhen('event'), 'alarm');
    expect(addCall(rig, defaultWhen('event'), null).name).toBe('Event 2');
    setCall(rig, id, { circuits: { posts: FULL_LEVEL }, priority: 3 });
    removeCircuit(rig, 'posts');
    removeCue(rig, 'alarm');
    expect(checkRig(rig).calls[0]).toMatchObject({ cueId: null, circuits: {}, priority: 3 });
    removeCall(rig, id);
    expect(rig.calls).toHaveLength(1);
    expect(() => setCall(rig, id, {})).toThrow(RangeError);
  });

  it('are refused where what they refer to is not there, or a box has no inside', () => {
    const rig = rigWith({ id: 'breach', when: onEvent('gate') });
    expect(() => checkRig({ ...rig, calls: [{ ...rig.calls[0]!, cueId: 'gone' }] })).toThrow('for a cue "gone"');
    expect(() => checkRig({ ...rig, calls: [{ ...rig.calls[0]!, circuits: { gone: FULL_LEVEL } }] })).toThrow('a circuit "gone"');
    expect(() => checkRig({ ...rig, calls: [{ ...rig.calls[0]!, when: { ...box, max: [0, 3, 2] } }] })).toThrow('greater corner');
    expect(() => checkRig({ ...rig, startCueId: 'gone' })).toThrow('start cue "gone"');
  });
});
