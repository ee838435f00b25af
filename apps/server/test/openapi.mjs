// Reads a description of an interface and prints what a public validator has against it.
import { Validator } from '@seriousme/openapi-schema-validator';

let text = '';
for await (const data of process.stdin) text += data;
const validator = new Validator();
const { valid, errors } = await validator.validate(JSON.parse(text));
// Every reference has to lead somewhere.
if (valid) validator.resolveRefs();
console.log(JSON.stringify({ valid, errors: errors ?? null }));
