import type { Language } from '../words/languages';
import { findTwins, type OtherNames } from './twins';

/** Pairs of words as families give them, that say the same (1) or do not (0). */
const PAIRS: Record<Language, string> = {
  en: `kite|kites|1 boat|boats|1 berry|berries|1 leaf|leaves|1 child|children|1 knife|knives|1 beach|beaches|1 dish|dishes|1
bus|buses|1 box|boxes|1 tomato|tomatoes|1 snowman|snowmen|1 wolf|wolves|1 party|parties|1 tooth|teeth|1 apple_tree|apple_trees|1
soapbox|soap_box|1 t-shirt|tshirt|1 birthday|birthday's|1 lantern|lantren|1 birthday|brithday|1 swimming|swiming|1 harvest|havrest|1
grandmother|grandmohter|1 picnic|picnick|0 garden|gardens|1 cycling|cyling|1 allotment|alotment|1 christmas|chrismas|1 holiday|holliday|1
barbecue|barbeque|1 ice_cream|icecream|1 bee_hive|beehive|1 Tove|Tove_Hallorin|1 photo|photos|1 sunset|sunsets|1
boat|coat|0 horse|house|0 glass|glasses|1 lake|cake|0 winter|winner|0 skating|skiing|0 bread|beard|0 tent|tents|1 swim|swing|0 lens|len|0
tennis|tenni|0 grass|gras|0 kitten|mitten|0 sand|sandal|0 spring|string|0 market|marker|0 snow|show|0 car|care|0 farm|farmer|0 sailing|railing|0
parade|parades|1 flower|flour|0 dinner|diner|0 desert|dessert|0 concert|convert|0 school|schools|1 Ruben|Rubens|0 bride|bridge|0 planet|planets|1
sister|sitter|0 cousin|cousins|1 party|pasty|0 forest|forests|1 rain|train|0 bees|bee|1 dog|dogs|1 dog|fog|0 first_day|first_days|1
Anna|Anne|0 Maria|Marie|0 tulip|tulips|1 swallow|swallows|1 swan|swans|1 puppy|puppies|1 lighthouse|lighthuose|1 carnival|carnaval|1 sledging|sleding|1 windmill|windmills|1 tower|towel|0 ballon|balloon|1 baloon|balloon|1 playground|play_ground|1 march|match|0 plane|planes|1 table|cable|0 ferry|fairy|0 hiking|biking|0 hill|hall|0 river|rivers|1`,
  de: `Drachen|Drache|1 See|Seen|0 Baum|Bäume|1 Blume|Blumen|1 Kind|Kinder|1 Haus|Häuser|1 Auto|Autos|1 Katze|Katzen|1 Hund|Hunde|1
Garten|Gärten|0 Fahrrad|Fahrräder|1 Geburtstag|Geburtstage|1 Geburtstag|Geburstag|1 Weihnachten|Weinachten|1 Schmetterling|Schmeterling|1
Laterne|Laternen|1 Sommer-Fest|Sommerfest|1 Freundin|Freundinnen|1 Erlebnis|Erlebnisse|1 Spielplatz|Spielpaltz|1 Schwimmen|Schwimen|1
Apfelbaum|Apfelbäume|1 Berg|Berge|1 Burg|Burgen|1 Wald|Wand|0 Haus|Maus|0 Hose|Rose|0 Kirche|Kirsche|0 Tasse|Tasche|0 Kuchen|Küche|0
Bank|Bahn|0 Winter|Winzer|0 Tanne|Tante|0 Sand|Hand|0 Biene|Bienen|1 Schule|Schulen|1 Oma|Opa|0 Torte|Torten|1 Markt|Mark|0 Sonne|Sonntag|0
Krippe|Klippe|0 Fisch|Tisch|0 Löwe|Löwen|1 Zelt|Zelte|1 Insel|Inseln|1 Strasse|Straßen|0 Schneemann|Schneemänner|1 Kürbis|Kürbisse|1 Rodeln|Rodel|1 Garten|Karten|0 Boot|Brot|0 Wolke|Wolken|1 Ball|Bälle|1 Pferd|Pferde|1 Kutsche|Rutsche|0 Fluss|Flüsse|1 Hafen|Hasen|0`,
  sv: `drake|drakar|1 sjö|sjön|1 båt|båtar|1 blomma|blommor|1 häst|hästar|1 hästen|häst|1 hund|hundar|1 barn|barnen|1 hus|huset|1
födelsedag|födelsedagar|1 födelsedag|födesledag|1 midsommar|midsomar|1 cykel|cyklar|0 skridskor|skridsko|1 lykta|lyktor|1 skog|skogen|1
sommar|somrar|0 katt|katter|1 katt|matt|0 flicka|flickor|1 bok|böcker|1 stad|städer|1 bi|bin|0 kräfta|kräftor|1 kräftskiva|kräftskivor|1
trädgård|trädgården|1 hav|havet|1 strand|stranden|1 strand|strumpa|0 hatt|katt|0 mus|hus|0 sol|stol|0 ros|gris|0 bad|bada|0 is|isen|0
gran|grav|0 ö|ön|0 fågel|fåglar|0 kanot|kanoter|1 cykling|cyckling|1 lek|leka|0 kaka|kakor|1 tåg|tåget|1 bil|bilar|1 bil|bild|0 sten|stenar|1 snö|snön|1 mat|matta|0 vän|vänner|0 kalas|kalaset|1 tält|tältet|1 sand|sanden|1`,
};

const read = (text: string) =>
  text.split(/\s+/).map((line) => {
    const [a, b, same] = line.split('|');
    return { a: a!.replaceAll('_', ' '), b: b!.replaceAll('_', ' '), same: same === '1' };
  });
const NONE: OtherNames = { people: [], places: [] };
const tag = (id: number, name: string, more: object = {}) => ({ id, name, parent: null, pictures: 3 - id, ...more });

describe('words that may be one', () => {
  test('of pairs as families write them, in three languages', () => {
    let right = 0;
    let wrong = 0;
    let missed = 0;
    const odd: string[] = [];
    let all = 0;
    for (const language of ['en', 'de', 'sv'] as const)
      for (const { a, b, same } of read(PAIRS[language])) {
        all++;
        const found = findTwins([tag(1, a), tag(2, b)], NONE, language).length > 0;
        if (found && same) right++;
        if (found && !same) {
          wrong++;
          odd.push(`${a} = ${b}`);
        }
        if (!found && same) {
          missed++;
          odd.push(`${a} ≠ ${b}`);
        }
      }
    const precision = right / (right + wrong);
    const recall = right / (right + missed);
    console.log(
      `${all} pairs: precision ${(100 * precision).toFixed(1)} %, recall ${(100 * recall).toFixed(1)} %; wrong: ${odd.join(', ')}`,
    );
    expect(precision).toBeGreaterThanOrEqual(0.95);
    expect(recall).toBeGreaterThanOrEqual(0.95);
  });
  test('the one on fewer pictures is to be joined; what people said is different stays apart', () => {
    const tags = [tag(1, 'kites', { pictures: 13 }), tag(2, 'kite', { pictures: 3 })];
    expect(findTwins(tags, NONE, 'en')).toEqual([{ tag: 2, other: { tag: 1 }, why: 'plural' }]);
    expect(findTwins(tags, NONE, 'en', (t, other) => t === 2 && other === 'tag 1')).toEqual([]);
    expect(findTwins(tags, NONE, 'en', undefined, () => true)).toEqual([]);
    expect(findTwins([tags[0]!, { ...tags[1]!, parent: 1 }], NONE, 'en')).toEqual([]);
  });
  test('a tag that is a person, a place or a year', () => {
    const others: OtherNames = {
      people: [
        { id: 7, name: 'Tove Hallorin' },
        { id: 8, name: 'Agathe Wend' },
        { id: 8, name: 'Gran' },
        { id: 9, name: 'Noor Castell' },
        { id: 10, name: 'Noor Lind' },
      ],
      places: ['Visby'],
    };
    const found = findTwins(
      ['tove', 'Gran', 'visby', '1988', 'Noor', 'lake'].map((name, i) => tag(i + 1, name)),
      others,
      'en',
    );
    expect(found).toEqual([
      { tag: 2, other: { person: 8, name: 'Gran' }, why: 'person' },
      { tag: 1, other: { person: 7, name: 'Tove Hallorin' }, why: 'first name' },
      { tag: 4, other: { year: 1988 }, why: 'year' },
      { tag: 3, other: { place: 'Visby' }, why: 'place' },
    ]);
  });
});
