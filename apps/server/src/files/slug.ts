import { safeFolderName } from '@gemmel/core';

/** What something is called in addresses and on disk, by its name: small letters without accents, digits and hyphens. */
export const slugOf = (name: string, otherwise: string, longest = 60): string =>
  safeFolderName(name)
    .replace(/[’'`]/g, '')
    .normalize('NFKD')
    .replace(/\p{M}/gu, '')
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, '-')
    .slice(0, longest)
    .replace(/^-+|-+$/g, '') || otherwise;
