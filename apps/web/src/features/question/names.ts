import { useHelps } from '@/features/account/session';
import { t } from '@lingui/core/macro';
import type { Names, Vocabulary } from '@gemmel/core';
import { useMemo } from 'react';
import { useAnswer } from '@/api/query';
import { batchName, sayCountry } from '@/words/said';

/** The names of everything a question may speak of, for sentences and chips; asked for when they are `wanted`. */
export function useNames(wanted = true): Names {
  const people = useAnswer('people', {}, { enabled: wanted }).data?.people;
  const tags = useAnswer('tags', {}, { enabled: wanted }).data?.tags;
  const events = useAnswer('events', {}, { enabled: wanted }).data?.events;
  const albums = useAnswer('albums', {}, { enabled: wanted }).data?.albums;
  const batches = useAnswer('batches', {}, { enabled: useHelps() && wanted }).data?.batches;
  const folders = useAnswer('folders', {}, { enabled: wanted }).data?.folders;
  const places = useAnswer('ownPlaces', {}, { enabled: wanted }).data?.places;
  const marks = useAnswer('marks', {}, { enabled: wanted }).data?.marks;
  return useMemo(() => {
    const from = (list: readonly { id: number; name: string }[] | undefined, otherwise: string) => {
      const map = new Map(list?.map((one) => [one.id, one.name]));
      return (id: number) => map.get(id) ?? otherwise;
    };
    return {
      person: from(people, t`somebody`),
      tag: from(tags, t`a tag`),
      event: from(
        events?.map((e) => ({ id: e.id, name: e.title ?? t`an event without a name` })),
        t`an event`,
      ),
      album: from(albums, t`an album`),
      batch: from(
        batches?.map((b) => ({ id: b.id, name: batchName(b) })),
        t`a batch`,
      ),
      device: () => t`a device`,
      mark: from(
        marks?.map((mark) => ({ id: mark.id, name: mark.meaning })),
        t`a mark`,
      ),
      member: () => t`somebody`,
      folder: from(folders, t`a folder`),
      ownPlace: from(places, t`a place`),
    };
  }, [people, tags, events, albums, batches, folders, places, marks]);
}

/** The same, with devices and members too, for whoever edits what an album asks for. */
export function useAllNames(): Names {
  const names = useNames();
  const devices = useAnswer('ledger', {}).data?.devices;
  const members = useAnswer('acts', { query: {} }).data?.members;
  return useMemo(
    () => ({
      ...names,
      device: (id) => devices?.find((one) => one.device === id)?.name ?? t`a device`,
      member: (id) => members?.find((one) => one.id === id)?.name ?? t`somebody`,
    }),
    [names, devices, members],
  );
}

/** The words typing can end in: people with their nicknames, tags, places and countries. */
export function useVocabulary(wanted: boolean): Vocabulary {
  const people = useAnswer('people', {}, { enabled: wanted }).data?.people;
  const tags = useAnswer('tags', {}, { enabled: wanted }).data?.tags;
  const placesData = useAnswer('places', {}, { enabled: wanted }).data?.places;
  const ownData = useAnswer('ownPlaces', {}, { enabled: wanted }).data?.places;
  const places = useMemo(() => (placesData ?? []).filter((p) => p.country), [placesData]);
  const own = useMemo(() => ownData ?? [], [ownData]);
  return useMemo(
    () => ({
      people: (people ?? []).flatMap((p) => [
        { id: p.id, name: p.name },
        ...(p.nickname && p.nickname !== p.name ? [{ id: p.id, name: p.nickname }] : []),
      ]),
      tags: tags ?? [],
      own,
      places: [
        ...[...new Map(places.map((p) => [`${p.country} ${p.place}`, p])).values()].flatMap((p) =>
          p.place ? [{ country: p.country, place: p.place, name: p.place }] : [],
        ),
        ...[...new Map(places.map((p) => [p.country, sayCountry(p.country)]))].map(([country, name]) => ({
          country,
          name,
        })),
      ],
    }),
    [people, tags, places, own],
  );
}
