import { benchExplained } from './explained.ts';

// Ratios within one run; figures per second are of this machine only.
benchExplained();
