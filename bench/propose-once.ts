import proposePrices from '#server/worksheets/propose-prices.ts';

/** One worksheet in a process of its own, so that its memory is its own: `propose-once.ts URL WORKSHEET [THREADS]`. */
const [url, worksheet, threads] = process.argv.slice(2);
const ended = await proposePrices({
  url: url!,
  worksheet: Number(worksheet),
  ...(threads === undefined ? {} : { threads: Number(threads) }),
});
process.stdout.write(JSON.stringify({ ...ended, megabytes: process.resourceUsage().maxRSS / 1024 }));
