import { everyDoor, knock } from './mutated';

// How many files, and the number of the first.
const [count = 10_000, first = 1] = process.argv.slice(2).map(Number);

/** Memory beyond which a file has done damage. */
const MOST = 2 ** 30;

let highest = 0;
const doors = await everyDoor();
const slips = await knock(
  doors,
  count,
  first,
  () => performance.now(),
  (done) => {
    highest = Math.max(highest, process.memoryUsage().rss);
    if (done % 500 === 0) process.stderr.write(`${done} of ${count}\n`);
  },
);
for (const { door, number, problem } of slips)
  process.stdout.write(`${door}, number ${number}: ${problem}\n`);
process.stdout.write(
  `${count - slips.length} taken or refused, ${slips.length} not; at most ${Math.round(highest / 2 ** 20)} MB\n`,
);
process.exit(slips.length > 0 || highest > MOST ? 1 : 0);
