import { compareWays } from './tests/compare-ways.ts';
import { say } from './measure.ts';
import { RANDOM_DAY, randomWorkspace } from './tests/random-workspace.ts';

// npm run fuzz [-- PRICES [SEED]]: compares the bulk way with the explained way until so many prices were the same.
const [wanted, first] = [Number(process.argv[2] ?? 2_000_000), Number(process.argv[3] ?? 1)];
let [prices, filtered] = [0, 0];
for (let seed = first; prices < wanted; seed++) {
  const found = compareWays(randomWorkspace(seed, 200), RANDOM_DAY);
  if (found.mismatch) {
    say(`seed ${seed}: ${found.mismatch}`);
    process.exitCode = 1;
    break;
  }
  prices += found.prices;
  filtered += found.filtered;
  if (seed % 100 === 0)
    say(
      `seed ${seed}: ${prices.toLocaleString('en-GB')} prices the same, ${((filtered / prices) * 100).toFixed(1)} % decided without the explained way`,
    );
}
if (!process.exitCode) say(`${prices.toLocaleString('en-GB')} prices the same, none different; seeds from ${first}`);
