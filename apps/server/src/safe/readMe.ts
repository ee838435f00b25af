/** What lies in every backup, for whoever opens it without Gemmel. */
export const README = `This is a backup of a Gemmel: a household's pictures and everything said about them.

vault/         the originals, by library, year and event. They are plain files: any program opens them.
               Beside each lies NAME.xmp with what people said of it (XMP, an open standard), and albums as lists.
database.sql   everything else, as SQL that MariaDB reads: mariadb gemmel < database.sql
settings.json, secrets.json
               how it was set up. Keep secrets.json to yourself.
incoming/, aside/
               files that were just coming in, or were kept aside.

With Gemmel, on a fresh machine:   ./gemmel restore PLACE
Without it:                        restic -r PLACE restore latest --target FOLDER
`;
