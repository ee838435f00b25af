import type { Answer, Api, HandlerInput } from '@gemmel/contract';
import {
  changeAlbum,
  copyAlbum,
  listAlbums,
  makeAlbumFrom,
  makePlainAlbum,
  makeSmartAlbum,
  removeAlbum,
} from '../album/albums';
import { changeChapter, makeChapter, removeChapter } from '../album/chapters';
import { joinAlbums, moveInAlbum, movePictures, putIntoAlbum, setOrder, takeOut } from '../album/fill';
import { albumOf, looseOf } from '../album/page';
import { proposeBest } from '../album/propose';
import { changeShelf, makeShelf, planOfFolder, removeShelf, shelve, shelveFolder, sortAlbums } from '../album/shelves';
import { albumsWith, handAlbum, whyIn } from '../album/smart';
import { FailLimit } from '../account/limit';
import type { App } from '../context';
import { refused } from '../problem';
import { confirmWall, endWall, listWalls, openWall, wallOf, wallSlides } from '../show/walls';
import { changeMusic, listMusic, removeMusic } from '../show/music';
import { changeShow, listShows, makeShow, removeShow, showOf, slidesOf } from '../show/shows';
import { refuseForeign } from '../library/own';
import type { Call } from './guard';

type Names =
  | 'albums'
  | 'looseAlbums'
  | 'album'
  | 'makeAlbum'
  | 'changeAlbum'
  | 'putIntoAlbum'
  | 'takeOutOfAlbum'
  | 'moveToAlbum'
  | 'moveInAlbum'
  | 'orderAlbum'
  | 'copyAlbum'
  | 'joinAlbums'
  | 'removeAlbum'
  | 'makeChapter'
  | 'changeChapter'
  | 'removeChapter'
  | 'handAlbum'
  | 'whyInAlbum'
  | 'albumsWith'
  | 'bestOf'
  | 'makeShelf'
  | 'changeShelf'
  | 'sortAlbums'
  | 'shelve'
  | 'removeShelf'
  | 'folderShelves'
  | 'shelveFolder'
  | 'showOf'
  | 'slides'
  | 'shows'
  | 'makeShow'
  | 'changeShow'
  | 'removeShow'
  | 'music'
  | 'changeMusic'
  | 'removeMusic'
  | 'openWall'
  | 'walls'
  | 'confirmWall'
  | 'endWall'
  | 'wall'
  | 'wallSlides';

/** The answers of the routes about albums, shelves, smart albums and shows. */
export function albumHandlers(app: App): {
  [K in Names]: (input: HandlerInput<Api[K]>, call: Call) => Promise<Answer<Api[K]>>;
} {
  const codes = new FailLimit({ most: 10, minutes: 5 });
  return {
    albums: (_, { session }) => listAlbums(app, session.library),
    looseAlbums: (_, { session }) => looseOf(app, session.library),
    album: ({ params }, { session }) => albumOf(app, session.library, params.id),
    makeAlbum: async ({ body }, { session }) => {
      const { name, shelf, description } = body;
      if (body.event !== undefined) await refuseForeign(app.db, session.library, 'events', [body.event], 'event');
      if (body.folder !== undefined) await refuseForeign(app.db, session.library, 'folders', [body.folder], 'file');
      if (body.question)
        return makeSmartAlbum(app, session, name, body.question, { best: body.best, shelf, description });
      const from =
        body.from ??
        (body.event !== undefined
          ? { event: body.event }
          : body.folder !== undefined
            ? { folders: [body.folder] }
            : null);
      return from
        ? makeAlbumFrom(app, session, name, from, { shelf, description })
        : makePlainAlbum(app, session, name, body.ids ?? [], { shelf, description });
    },
    changeAlbum: ({ params, body }, { session }) => changeAlbum(app, session, params.id, body),
    putIntoAlbum: ({ params, body }, { session }) => putIntoAlbum(app, session, params.id, body),
    takeOutOfAlbum: ({ params, body }, { session }) => takeOut(app, session, params.id, body.ids),
    moveToAlbum: ({ params, body }, { session }) => movePictures(app, session, params.id, body.to, body.ids),
    moveInAlbum: ({ params, body }, { session }) => moveInAlbum(app, session, params.id, body),
    orderAlbum: ({ params, body }, { session }) => setOrder(app, session, params.id, body.ids),
    copyAlbum: ({ params, body }, { session }) => copyAlbum(app, session, params.id, body.name, body.frozen),
    joinAlbums: ({ params, body }, { session }) => joinAlbums(app, session, params.id, body.into),
    removeAlbum: ({ params }, { session }) => removeAlbum(app, session, params.id),

    makeChapter: ({ params, body }, { session }) => makeChapter(app, session, params.id, body, body.before),
    changeChapter: ({ params, body }, { session }) => changeChapter(app, session, params.id, body),
    removeChapter: ({ params }, { session }) => removeChapter(app, session, params.id),

    handAlbum: ({ params, body }, { session }) => handAlbum(app, session, params.id, body.ids, body.way),
    whyInAlbum: ({ params }, { session }) => whyIn(app, session.library, params.id, params.picture),
    albumsWith: async ({ params }, { session }) => ({ albums: await albumsWith(app, session.library, params.id) }),
    bestOf: ({ body: { from, ...wish } }, { session }) => proposeBest(app, session.library, from, wish),

    makeShelf: ({ body }, { session }) => makeShelf(app, session, body),
    changeShelf: ({ params, body }, { session }) => changeShelf(app, session, params.id, body),
    sortAlbums: ({ body }, { session }) => sortAlbums(app, session, body.sorted),
    shelve: ({ body }, { session }) => shelve(app, session, body),
    removeShelf: ({ params, body }, { session }) => removeShelf(app, session, params.id, body.rest),
    folderShelves: ({ params }, { session }) => planOfFolder(app, session.library, params.id),
    shelveFolder: ({ params, body }, { session }) => shelveFolder(app, session, params.id, body.on),

    showOf: ({ body }, { session }) => showOf(app, session.library, body.source),
    slides: async ({ body }, { session }) => ({ slides: await slidesOf(app, session.library, body.ids) }),
    shows: async (_, { session }) => ({ shows: await listShows(app, session.library) }),
    makeShow: ({ body }, { session }) => makeShow(app, session, body),
    changeShow: ({ params, body }, { session }) => changeShow(app, session, params.id, body),
    removeShow: ({ params }, { session }) => removeShow(app, session, params.id),
    music: async (_, { session }) => ({ music: await listMusic(app, session.library) }),
    changeMusic: ({ params, body }, { session }) => changeMusic(app, session, params.id, body.title),
    removeMusic: ({ params }, { session }) => removeMusic(app, session, params.id),

    openWall: () => openWall(app),
    walls: async (_, { session }) => ({ walls: await listWalls(app, session.library) }),
    confirmWall: async ({ body }, { session }) => {
      // A million codes, and ten tries: whoever guesses gets nowhere.
      const key = `${session.library} ${session.member}`;
      if (!(await codes.begin(key))) throw refused('too-many-tries');
      const confirmed = await confirmWall(app, session, body);
      await codes.clear(key);
      return confirmed;
    },
    endWall: ({ params }, { session }) => endWall(app, session.library, params.id),
    wall: ({ params }) => wallOf(app, params.token),
    wallSlides: ({ params, body }) => wallSlides(app, params.token, body.ids),
  };
}
