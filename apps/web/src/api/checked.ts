/** Fetches what schemas are made of. Whoever checks something with one imports this first; see `bundle/schemas`. */
import * as schemas from 'zod/v4';
import { z } from 'zod';

(z as { becomes?: (real: typeof schemas) => void }).becomes?.(schemas);
