// Prints what the checks find in a project file: `npm run check -- FILE.upperroom [--variant NAME] [--json]`.
// Ends with 2 where something stops, 1 where something is to be mended, 0 otherwise, and 3 where the file cannot be read.
import { readFile } from 'node:fs/promises';
import { findingsOf, type Finding } from '@/core/checks/finding';
import { RULES } from '@/core/checks/rules';
import { acceptedOf, checkRuleOf } from '@/core/design/checkCommands';
import { projectOf, variantsOf } from '@/core/design/design';
import { UpperRoomError } from '@/core/errors';
import { linkedAddresses } from '@/core/design/surveyCommands';
import { countedOf, joined } from '@/core/survey/heard';
import { readProjectFile } from '@/contract/projectFile';
import { factsOf } from '@/engine/facts';
import { enginePoolHere, fieldsHere } from '@/engine/here';
import { textOfProjectFile } from '@/server/services/projectFile';

const UNREADABLE = 3;
const args = process.argv.slice(3);
const json = args.includes('--json');
const variantAt = args.indexOf('--variant');
const wanted = variantAt < 0 ? null : (args[variantAt + 1] ?? '');
const file = args.find((arg, i) => !arg.startsWith('--') && (variantAt < 0 || i !== variantAt + 1));

function stop(words: string): never {
  console.error(words);
  process.exit(UNREADABLE);
}

if (file === undefined) stop('Name the project file: npm run check -- FILE.upperroom [--variant NAME] [--json]');
try {
  const bytes = await readFile(file).catch((error: NodeJS.ErrnoException) => stop(`${file} cannot be read: ${error.code ?? error.message}`));
  const { design, walks } = readProjectFile(await textOfProjectFile(bytes));
  const variants = variantsOf(design);
  const variant = wanted === null ? variants.at(-1)! : variants.find(({ name }) => name === wanted);
  if (variant === undefined) stop(`There is no variant “${wanted}”. There are: ${variants.map(({ name }) => name).join(', ')}.`);
  const { samples } = joined(
    walks.flatMap(({ walkId, ...heard }) => {
      const walk = design.walks[walkId]!;
      return walk.variantId === variant.id ? [countedOf(walk, heard, linkedAddresses(design))] : [];
    }),
  );
  const facts = await factsOf(design, variant.id, enginePoolHere, fieldsHere(), { samples });
  const all = findingsOf(RULES, facts, (ruleId) => checkRuleOf(design, ruleId));
  const accepted = (finding: Finding): string | null => acceptedOf(design, variant.id, finding.key)?.reason ?? null;
  const open = all.filter((finding) => accepted(finding) === null);
  const placeOf = ({ place }: Finding): string =>
    place === null ? '' : `, ${design.floors[place.floorId]?.name ?? ''} at ${place.xM.toFixed(1)}, ${place.yM.toFixed(1)} m`;
  if (json) {
    console.log(
      JSON.stringify(
        {
          project: projectOf(design)?.name,
          variant: variant.name,
          findings: all.map((finding) => ({ ...finding, remedy: finding.remedy?.label ?? null, accepted: accepted(finding) })),
        },
        null,
        1,
      ),
    );
  } else {
    console.log(`${projectOf(design)?.name ?? ''}, ${variant.name}: ${open.length} findings, ${all.length - open.length} accepted.\n`);
    open.forEach((finding, i) =>
      console.log(
        `${String(i + 1).padStart(3)} ${finding.severity.toUpperCase()}  ${finding.title}${placeOf(finding)}\n         ${finding.reason}\n         ${finding.advice}`,
      ),
    );
  }
  process.exitCode = open.some(({ severity }) => severity === 'stop') ? 2 : open.some(({ severity }) => severity === 'mend') ? 1 : 0;
} catch (error) {
  if (!(error instanceof UpperRoomError)) throw error;
  stop(error.message);
}
