import { CoreError, sentenceOf } from '../core/errors';
import { runAtlas } from './atlas';
import { runBuild } from './build';
import { runCue } from './cue';
import { runDeliver } from './deliver';
import { runInspect } from './inspect';
import { runLayout } from './layout';
import { runCheck } from './check';
import { runMatch } from './match';
import { UsageError, type Terminal } from './options';
import { runRamp } from './ramp';
import { runPalette } from './palette';
import { runUnwrap } from './unwrap';

const HELP = `zanahoria: paint with light built in, from the command line

  zanahoria inspect MODEL [--size 1024] [--json]
      Counts, parts, bounds, UV figures and edges as JSON.
  zanahoria cue MODEL --cue NAME --out FILE.png [--size 1024] [--json]
      A cue as a 16-bit grey PNG; the first row is the top of the sheet (v = 1); 65535 = 1.
      occlusion: fully open is 1    --rays 64  --distance D (model units; without it rays look without end)
      height:    highest is 1       --axis x|y|z (y), or --direction x,y,z
      facing:    (1 + cos angle)/2  --direction x,y,z (0,1,0)
      ridge:     min(1, max(0, H * S * diagonal)), H the mean curvature, positive where convex  --scale S (0.05)
      crease:    the same of -H     --scale S (0.05)
      nearness:  max(0, 1 - d/R)    --point x,y,z (the middle)  --radius R (half the diagonal)
      along:     min(1, way/D)      --point x,y,z  --distance D (half the diagonal), the way over the surface
      cast:      the part of the light's disc that is seen, 1 lit  --direction x,y,z (0,1,0)  --light DEGREES across (0)
      thickness: cosine-weighted mean of min(way through the solid, D)/D  --distance D (a tenth of the diagonal)
      grain:     noise in model space  --kind value|ridged|cellular (value)  --scale S grains a diagonal (30)  --seed N (1)
      All of them: --from DENSE measures on a denser model of the same shape  --within D (0.02 of the diagonal)
  zanahoria unwrap MODEL --out FILE.glb [--size 1024] [--margin 12] [--seams auto|existing|creases]
      [--cut natural|even] [--stretch 1.06] [--arrange upright|tightest] [--never PARTS] [--gladly PARTS]
      [--cut-triangles] [--json]
      Seams, flattening and packing by itself, on all cores; prints what the layout is like. Margin in texels. --cut-triangles
      leads seams straight, through triangles: the model gets more of them.
  zanahoria layout MODEL --out FILE.svg|FILE.png [--size 1024] [--json]
      The UV layout as a drawing.
  zanahoria build MODEL... --recipe FILE.json --out DIR [--size 1024] [--map ROLE=PART]... [--unwrap] [--jobs N] [--json]
      Applies a build-up; writes albedo.png, model.glb and report.json. --map says which part plays a role of the recipe.
      --unwrap: a model that has no UVs is laid out first.
      Of several models, or a folder of them, each into a folder of its own, on all cores (or --jobs N); it goes on after one
      that can't be built, writes summary.json, and exits with 1 then.
  zanahoria deliver PROJECT.zip... --out DIR [--size N] [--ora] [--settings FILE.json] [--jobs N]
      Paints a project file again, stroke by stroke where the size is another; writes albedo.png (albedo-N.png of several sheets),
      model.glb and report.json, and prints {"layers","strokes","texelHash","seconds"}.
      --settings: what the Deliver stage set last, as its report holds it: format, bleed, names, and what leaves.
  zanahoria check MODEL --albedo A.png... | FOLDER [--mips 4] [--limit 2] [--range 0,100] [--density 4] [--game 128]
      Whether it may leave: other colours along borders in the halvings (CIEDE2000), bleed, texels without colour, distances of islands,
      islands on one another, density, lightness out of range, steps in slopes, parts that merge at game size. Prints
      {"seams":[{"part","mip","length","deltaE"}],"unpainted","bleed","gap",...,"findings","ok"}; exit code 1 if it may not.
      FOLDER: what build or deliver wrote, all of it; writes check.json there.
  zanahoria atlas PROJECT.zip|FOLDER... --out DIR [--size 2048] [--margin 12] [--weight NAME=2]... [--arrange tightest|upright]
      Packs painted models onto one sheet, with the same texels a unit, times their weight; writes albedo.png, model.glb and report.json.
      FOLDER: what build or deliver wrote.
  zanahoria palette PICTURE.png [--colors 8]
      The main colours of a picture and their shares, as {"colors":[{"hex","share"}]}.

  zanahoria ramp MODEL --ramps FILE.json --out DIR [--size 64]
      Puts parts on a small sheet of colour ramps: {"ramps":[{"name","colors":["#rrggbb",...]}],
      "parts":{"NAME":{"ramp","direction":[x,y,z],"from","to"}}}; from and to say where along its ramp, 0..1, the part's lowest
      and highest place along the direction lie. Writes ramps.png, model.glb and report.json.
  zanahoria match MODEL --albedo A.png --reference R.png [--camera C.json | --points P.json] [--mask M.png] --out DIR
      How far a painted model is from a picture of it: silhouette, colours by part, palettes, values, light, edges, and what would help
      most. Without a camera or points the camera is found from the silhouettes; without a mask, by the picture's plain ground.
      C.json: {"position","target","up","fovY" (degrees),"shift","width","height"}; P.json: [{"model":[x,y,z],"picture":[x,y]}],
      pixels from the upper left corner. Writes report.json, side-by-side.png and heat.png.

  Several models or projects, and folders of them, are worked on on all cores (or --jobs N). What was made from the same inputs before
  is left alone, so a run that was stopped goes on where it was; --anew makes all of it again.

  MODEL is a GLB, glTF, OBJ, PLY or STL file. Exit codes: 0 done, 1 the job failed, 2 bad use or bad input.
`;

/** @returns the exit code: 0 done, 1 the job failed, 2 bad use or bad input */
export async function run(args: readonly string[], terminal: Terminal): Promise<number> {
  const [command, ...rest] = args;
  try {
    switch (command) {
      case 'inspect':
        await runInspect(rest, terminal.out);
        return 0;
      case 'cue':
        await runCue(rest, terminal.out);
        return 0;
      case 'unwrap':
        await runUnwrap(rest, terminal.out);
        return 0;
      case 'layout':
        await runLayout(rest, terminal.out);
        return 0;
      case 'build':
        return await runBuild(rest, terminal);
      case 'deliver':
        return await runDeliver(rest, terminal);
      case 'check':
        return await runCheck(rest, terminal);
      case 'atlas':
        await runAtlas(rest, terminal);
        return 0;
      case 'palette':
        await runPalette(rest, terminal.out);
        return 0;
      case 'ramp':
        await runRamp(rest, terminal);
        return 0;
      case 'match':
        return await runMatch(rest, terminal);
      case undefined:
      case 'help':
      case '--help':
      case '-h':
        terminal.out(HELP);
        return command === undefined ? 2 : 0;
      default:
        throw new UsageError(
          `There is no command “${command}”. Use inspect, cue, unwrap, layout, build, deliver, check, atlas, palette, ramp or match; --help tells more.`,
        );
    }
  } catch (error) {
    terminal.error(`zanahoria: ${sentenceOf(error).replace(/\s*\n\s*/g, ' ')}\n`);
    return error instanceof UsageError || error instanceof CoreError ? 2 : 1;
  }
}
