import { writeFileSync } from 'node:fs';
import { capabilitiesPage } from '../../capabilities.ts';
import { routes } from '../../routes.ts';
import { description } from './describes.ts';

// docs/schema/openapi.json, as the code has it
writeFileSync(
  new URL('../../../docs/schema/openapi.json', import.meta.url),
  `${JSON.stringify(description(routes), null, 1)}\n`,
);

writeFileSync(new URL('../../../docs/capabilities.md', import.meta.url), capabilitiesPage());
