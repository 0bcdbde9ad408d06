/** How often a property is tried: a few at every change, many where there is time (`npm run fuzz`). */
export const runs = (many: number): number => (process.env['LONG_RUNS'] ? many * 5 : Math.ceil(many / 7));
