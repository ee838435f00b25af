import { z } from 'zod';
import type { Language } from '../words/languages';

/**
 * What the machine notices of a picture by measuring it: blurred, too dark, too bright, a screenshot or a document, without
 * colours, a panorama, somebody with shut eyes, many faces.
 */
export const MEASURED = ['blurred', 'dark', 'bright', 'screen', 'grey', 'wide', 'shut', 'crowd'] as const;
/** The machine's own kinds: what it measures; and, where it was asked to read, that there are words in it. */
export const NOTICED = [...MEASURED, 'words'] as const;
export type Noticed = (typeof NOTICED)[number];

/** What is looked for only when the keeper asks, since it takes long: everyday things, and words to be read. */
export const LOOKS = ['things', 'words'] as const;
export type Look = (typeof LOOKS)[number];
/** What can be switched on and off. */
export const OBSERVABLE = [...MEASURED, ...LOOKS] as const;
export type Observable = (typeof OBSERVABLE)[number];

/** Everyday things a net can find, by what they are called; in the order in which the net numbers them. */
export const THINGS = {
  person: { en: 'person', de: 'Mensch', sv: 'människa' },
  bicycle: { en: 'bicycle', de: 'Fahrrad', sv: 'cykel' },
  car: { en: 'car', de: 'Auto', sv: 'bil' },
  motorcycle: { en: 'motorcycle', de: 'Motorrad', sv: 'motorcykel' },
  airplane: { en: 'airplane', de: 'Flugzeug', sv: 'flygplan' },
  bus: { en: 'bus', de: 'Bus', sv: 'buss' },
  train: { en: 'train', de: 'Zug', sv: 'tåg' },
  truck: { en: 'truck', de: 'Lastwagen', sv: 'lastbil' },
  boat: { en: 'boat', de: 'Boot', sv: 'båt' },
  'traffic light': { en: 'traffic light', de: 'Ampel', sv: 'trafikljus' },
  'fire hydrant': { en: 'fire hydrant', de: 'Hydrant', sv: 'brandpost' },
  'stop sign': { en: 'stop sign', de: 'Stoppschild', sv: 'stoppskylt' },
  'parking meter': { en: 'parking meter', de: 'Parkuhr', sv: 'parkeringsautomat' },
  bench: { en: 'bench', de: 'Bank', sv: 'bänk' },
  bird: { en: 'bird', de: 'Vogel', sv: 'fågel' },
  cat: { en: 'cat', de: 'Katze', sv: 'katt' },
  dog: { en: 'dog', de: 'Hund', sv: 'hund' },
  horse: { en: 'horse', de: 'Pferd', sv: 'häst' },
  sheep: { en: 'sheep', de: 'Schaf', sv: 'får' },
  cow: { en: 'cow', de: 'Kuh', sv: 'ko' },
  elephant: { en: 'elephant', de: 'Elefant', sv: 'elefant' },
  bear: { en: 'bear', de: 'Bär', sv: 'björn' },
  zebra: { en: 'zebra', de: 'Zebra', sv: 'zebra' },
  giraffe: { en: 'giraffe', de: 'Giraffe', sv: 'giraff' },
  backpack: { en: 'backpack', de: 'Rucksack', sv: 'ryggsäck' },
  umbrella: { en: 'umbrella', de: 'Schirm', sv: 'paraply' },
  handbag: { en: 'handbag', de: 'Handtasche', sv: 'handväska' },
  tie: { en: 'tie', de: 'Krawatte', sv: 'slips' },
  suitcase: { en: 'suitcase', de: 'Koffer', sv: 'resväska' },
  frisbee: { en: 'frisbee', de: 'Frisbee', sv: 'frisbee' },
  skis: { en: 'skis', de: 'Ski', sv: 'skidor' },
  snowboard: { en: 'snowboard', de: 'Snowboard', sv: 'snowboard' },
  ball: { en: 'ball', de: 'Ball', sv: 'boll' },
  kite: { en: 'kite', de: 'Drachen', sv: 'drake' },
  'baseball bat': { en: 'baseball bat', de: 'Baseballschläger', sv: 'basebollträ' },
  'baseball glove': { en: 'baseball glove', de: 'Baseballhandschuh', sv: 'basebollhandske' },
  skateboard: { en: 'skateboard', de: 'Skateboard', sv: 'skateboard' },
  surfboard: { en: 'surfboard', de: 'Surfbrett', sv: 'surfbräda' },
  'tennis racket': { en: 'tennis racket', de: 'Tennisschläger', sv: 'tennisracket' },
  bottle: { en: 'bottle', de: 'Flasche', sv: 'flaska' },
  'wine glass': { en: 'wine glass', de: 'Weinglas', sv: 'vinglas' },
  cup: { en: 'cup', de: 'Tasse', sv: 'kopp' },
  fork: { en: 'fork', de: 'Gabel', sv: 'gaffel' },
  knife: { en: 'knife', de: 'Messer', sv: 'kniv' },
  spoon: { en: 'spoon', de: 'Löffel', sv: 'sked' },
  bowl: { en: 'bowl', de: 'Schüssel', sv: 'skål' },
  banana: { en: 'banana', de: 'Banane', sv: 'banan' },
  apple: { en: 'apple', de: 'Apfel', sv: 'äpple' },
  sandwich: { en: 'sandwich', de: 'Butterbrot', sv: 'smörgås' },
  orange: { en: 'orange', de: 'Orange', sv: 'apelsin' },
  broccoli: { en: 'broccoli', de: 'Brokkoli', sv: 'broccoli' },
  carrot: { en: 'carrot', de: 'Karotte', sv: 'morot' },
  'hot dog': { en: 'hot dog', de: 'Hotdog', sv: 'varmkorv' },
  pizza: { en: 'pizza', de: 'Pizza', sv: 'pizza' },
  doughnut: { en: 'doughnut', de: 'Krapfen', sv: 'munk' },
  cake: { en: 'cake', de: 'Kuchen', sv: 'tårta' },
  chair: { en: 'chair', de: 'Stuhl', sv: 'stol' },
  sofa: { en: 'sofa', de: 'Sofa', sv: 'soffa' },
  'potted plant': { en: 'potted plant', de: 'Topfpflanze', sv: 'krukväxt' },
  bed: { en: 'bed', de: 'Bett', sv: 'säng' },
  table: { en: 'table', de: 'Tisch', sv: 'bord' },
  toilet: { en: 'toilet', de: 'Toilette', sv: 'toalett' },
  television: { en: 'television', de: 'Fernseher', sv: 'tv' },
  laptop: { en: 'laptop', de: 'Laptop', sv: 'bärbar dator' },
  mouse: { en: 'mouse', de: 'Computermaus', sv: 'datormus' },
  'remote control': { en: 'remote control', de: 'Fernbedienung', sv: 'fjärrkontroll' },
  keyboard: { en: 'keyboard', de: 'Tastatur', sv: 'tangentbord' },
  phone: { en: 'phone', de: 'Telefon', sv: 'telefon' },
  microwave: { en: 'microwave', de: 'Mikrowelle', sv: 'mikrovågsugn' },
  oven: { en: 'oven', de: 'Backofen', sv: 'ugn' },
  toaster: { en: 'toaster', de: 'Toaster', sv: 'brödrost' },
  sink: { en: 'sink', de: 'Spülbecken', sv: 'diskho' },
  refrigerator: { en: 'refrigerator', de: 'Kühlschrank', sv: 'kylskåp' },
  book: { en: 'book', de: 'Buch', sv: 'bok' },
  clock: { en: 'clock', de: 'Uhr', sv: 'klocka' },
  vase: { en: 'vase', de: 'Vase', sv: 'vas' },
  scissors: { en: 'scissors', de: 'Schere', sv: 'sax' },
  'teddy bear': { en: 'teddy bear', de: 'Teddybär', sv: 'nallebjörn' },
  'hair dryer': { en: 'hair dryer', de: 'Föhn', sv: 'hårtork' },
  toothbrush: { en: 'toothbrush', de: 'Zahnbürste', sv: 'tandborste' },
} as const satisfies Record<string, Record<Language, string>>;
export type ThingSeen = keyof typeof THINGS;
export const THING_NAMES = Object.keys(THINGS) as ThingSeen[];

/** Anything noticed: one of the machine's own kinds, or a thing it saw. */
export const Observed = z.enum([...NOTICED, ...THING_NAMES] as [Noticed | ThingSeen, ...(Noticed | ThingSeen)[]]);
export type Observed = z.infer<typeof Observed>;

const OWN: ReadonlySet<string> = new Set(NOTICED);
/** Whether it is one of the machine's own kinds, and no thing that was seen. */
export const isNoticed = (observed: Observed): observed is Noticed => OWN.has(observed);
