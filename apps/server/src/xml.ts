import { XMLBuilder } from 'fast-xml-parser';

/** Characters XML 1.0 cannot carry at all, and halves of pairs. */
const UNSPEAKABLE =
  /[\u0000-\u0008\u000b\u000c\u000e-\u001f\ufffe\uffff]|[\ud800-\udbff](?![\udc00-\udfff])|(?<![\ud800-\udbff])[\udc00-\udfff]/g;
const speakable = (_: string, value: unknown): string => String(value).replace(UNSPEAKABLE, '');

const builder = new XMLBuilder({
  ignoreAttributes: false,
  attributeNamePrefix: '@',
  textNodeName: '#',
  tagValueProcessor: speakable,
  attributeValueProcessor: speakable,
  suppressEmptyNode: true,
  format: true,
  indentBy: ' ',
});

/**
 * An object as XML without a heading: `@name` is an attribute, `#` what stands inside one that has some, a list one element after
 * another. Characters that XML 1.0 cannot carry are left out.
 */
export const toXml = (root: object): string => builder.build(root);
