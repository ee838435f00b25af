/** What somebody is called in short: the first of their names. */
export const firstName = (name: string): string => name.split(' ')[0] ?? name;
