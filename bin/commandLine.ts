import { parseArgs } from 'node:util';
import { Failure } from '../core/units';
import { OPTIONS, type Command } from './lib/input';

const USAGE = `basil: designs the light of a game level

  basil level inspect FILE [--json]          what a level holds and whether it is fit to bake
  basil rig new                              a rig to start from, as JSON
  basil rig history --project NAME [--address URL] [--revision N] [--json]
                                             the revisions of a project's rig in a running Basil; with a number, that rig
  basil bake FILE --rig RIG.json --out DIR [--threads N] [--compact] [--json]
                                             bakes a level: level.glb, an EXR per cue and per stem (or all stems in a tenth
                                             of the room, as the studio keeps them), manifest.json
    [--seed N] [--noise SHARE] [--without filter,seams]
                                             to measure a bake: other samples, another noise allowed, steps left out
  basil preflight FILE [--rig RIG.json] [--json]
                                             what would spoil a bake of a level, each with its place; with a rig, its lamps too
  basil mix DIR --rig RIG.json (--cue NAME | --at HOUR) --out FILE.exr [--json]
                                             the light of a cue or an hour from the stems that a bake wrote, without tracing
  basil still --stems DIR --rig RIG.json (--cue NAME | --at HOUR) --out FILE.png|exr [--vantage NAME]
    [--width PX] [--height PX] [--oversample N] [--json]
                                             one picture at any size from the stems of a bake: graded, or its radiances in cd/m2
  basil sheet --stems DIR --rig RIG.json --out FILE.png [--cue NAME | --at HOUR] [--vantage NAME] [--width PX] [--json]
                                             every cue from one view, or a cue from every view, side by side
  basil ladder --stems DIR --rig RIG.json --value PATH[,PATH] --out FILE.png [--steps N] [--from A] [--to B] [--cue NAME | --at HOUR]
    [--vantage NAME] [--width PX] [--json]   one value of the rig at several steps; a path like cues/Noon/holds/mix/sun/level
  basil estimate FILE --rig RIG.json [--threads N] [--json]
                                             how long a bake would take, how much memory and room, from a probe of this level here
  basil cue list --rig RIG.json [--json]     the cues, and what each holds over the day
  basil cue diff NAME NAME --rig RIG.json [--json]
                                             what two cues hold differently, value by value
  basil cue at HOUR --rig RIG.json [--json]  which cues blend at an hour, and the light that stands then
  basil level finish FILE OTHER --name NAME [--out FILE.glb] [--json]
                                             what another finished version of a level shows otherwise; writes it as a variant
  basil cue add dawn|noon|dusk|night|overcast --rig RIG.json [--name NAME] [--json]
                                             the rig with a typical cue made for its place, as JSON; --json prints the cue alone
  basil cue finish FILE OTHER --name NAME --rig RIG.json [--cue NAME]
                                             a rig with a cue that shows another finished version of its level
  basil calls rehearse --rig RIG.json --events FILE.json [--json]
                                             what stands in a game whose calls are fired by a script, from each change on
  basil almanac --lat DEG --lon DEG --at ISO-8601 [--height M] [--json]
                                             sun and moon over a place: where they stand, rise, set, twilights, light
  basil sky --rig RIG.json (--at HOUR | --cue NAME) [--size 1024] [--out sky.exr|sky.hdr] [--json]
                                             the sky of an hour or a cue as a panorama, and its light in numbers
  basil fog --visibility LENGTH [--base M] [--fall-off M] [--start M] [--most SHARE] [--eye M] [--json]
                                             what a fog hides, and how far one sees in it; lengths like 800m or 1.5km
  basil weather --rig RIG.json (--cue NAME | --at HOUR) [--json]
                                             what falls, what lies on the ground, how far one sees, and the light under it
  basil grade --rig RIG.json (--cue NAME | --at HOUR) [--lut out.cube] [--size 33] [--cdl out.cdl] [--json]
                                             the grade of a cue or an hour, as a look-up table and as an ASC CDL
  basil grade read FILE.cdl|FILE.cube [--json]
                                             what a colour decision list or a look-up table holds
  basil image inspect FILE [--json]          what a sky image is, its sun and light, what is wrong and what can be done
  basil image repair FILE --fix CODE[,CODE] --out FILE [--sun-lux LX] [--sun-kelvin K] [--lux LX] [--json]
                                             applies remedies (or the first one of a problem) and writes the outcome
  basil image split FILE --out FILE [--json] takes the sun out of an image; what it was is printed
  basil image faces RIGHT LEFT UP DOWN FRONT BACK --out FILE
                                             six square images as one panorama; front is north
  basil image convert FILE --out FILE [--width PX] [--turn DEG] [--as linear|srgb] [--json]
                                             writes it as .exr or .hdr, smaller or turned
  basil ies inspect FILE [--json]            a measured distribution: its edition, angles, flux and peak
  basil lamps list --rig RIG.json [--json]   every lamp that stands in the level, with its flux, circuit and place

Exit code 0 on success, 2 for bad input (one line on stderr says what, where and what to do), 1 for a fault of ours.`;

/** The commands by their names, of one word or two. Each is loaded when it is asked for: what others need would take seconds. */
const COMMANDS: Record<string, () => Promise<Command>> = {
  'level inspect': async () => (await import('./commands/level')).inspect,
  'level finish': async () => (await import('./commands/level')).finish,
  'cue finish': async () => (await import('./commands/level')).finishCue,
  'rig new': async () => (await import('./commands/rig')).create,
  'ies inspect': async () => (await import('./commands/lamps')).inspectIes,
  'lamps list': async () => (await import('./commands/lamps')).list,
  'cue list': async () => (await import('./commands/cue')).list,
  'cue diff': async () => (await import('./commands/cue')).diff,
  'cue at': async () => (await import('./commands/cue')).at,
  'cue add': async () => (await import('./commands/cue')).add,
  'calls rehearse': async () => (await import('./commands/calls')).rehearseCalls,
  'rig history': async () => (await import('./commands/rig')).history,
  almanac: async () => (await import('./commands/almanac')).almanac,
  sky: async () => (await import('./commands/sky')).sky,
  fog: async () => (await import('./commands/fog')).fog,
  weather: async () => (await import('./commands/weather')).weather,
  'grade read': async () => (await import('./commands/grade')).read,
  grade: async () => (await import('./commands/grade')).grade,
  image: async () => (await import('./commands/image')).image,
  still: async () => (await import('./commands/pictures')).still,
  sheet: async () => (await import('./commands/pictures')).sheet,
  ladder: async () => (await import('./commands/pictures')).ladder,
  preflight: async () => (await import('./commands/preflight')).preflight,
  mix: async () => (await import('./commands/mix')).mix,
  estimate: async () => (await import('./commands/estimate')).estimate,
  bake: async () => (await import('./commands/bake')).bake,
};
const loaderOf = (name: string) => (Object.hasOwn(COMMANDS, name) ? COMMANDS[name] : undefined);

async function run(argv: string[]): Promise<void> {
  const { values, positionals } = readArguments(argv);
  if (positionals.length === 0 || positionals[0] === 'help' || values.help) return console.log(USAGE);
  for (const words of [2, 1]) {
    const load = loaderOf(positionals.slice(0, words).join(' '));
    if (load) return (await load())(positionals.slice(words), values);
  }
  throw new Failure('bad-input', `There is no command "${positionals.join(' ')}".`, 'Run "basil help" for those there are.');
}

/** "--lon -105" is a value, though it begins with a dash. */
const joinNegatives = (args: string[]) =>
  args.reduce<string[]>(
    (out, arg) => (/^-[\d.]/.test(arg) && /^--\w+$/.test(out.at(-1) ?? '') ? [...out.slice(0, -1), `${out.at(-1)}=${arg}`] : [...out, arg]),
    [],
  );

function readArguments(args: string[]) {
  try {
    return parseArgs({ args: joinNegatives(args), allowPositionals: true, options: OPTIONS });
  } catch (cause) {
    throw new Failure('bad-input', `${(cause as Error).message}.`, 'Run "basil help" for the options there are.');
  }
}

/** Runs a command; answers its exit code, with what was wrong on stderr. */
export async function commandLine(argv: string[]): Promise<number> {
  try {
    await run(argv);
    return 0;
  } catch (error) {
    if (error instanceof Failure && error.code !== 'fault') {
      console.error(error.sentence.replace(/\s+/g, ' '));
      return 2;
    }
    console.error(error instanceof Error ? error.stack : String(error));
    return 1;
  }
}
