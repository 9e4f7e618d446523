import { useQuery } from '@tanstack/react-query';
import { useMemo } from 'react';
import { api, given, type Schemas } from '../../api/client';
import { keys } from '../../api/keys';
import { listOf, withList, type LoomFile } from './document';

export interface DeviceType {
  id: string;
  title: string;
  kind: string;
  /** The family it usually comes with. */
  family?: string;
  /** Its pins and the cavities of that family they meet. */
  pins: Record<string, string>;
}

export interface Library {
  families: readonly Schemas['FamilyView'][];
  ids: readonly string[];
  devices: readonly DeviceType[];
  palette: ReadonlyMap<string, string>;
  words: Schemas['VocabularyView'];
}

const noWords: Schemas['VocabularyView'] = { deviceKinds: [], wireRoles: [], sections: [], boxKinds: [] };

/** The shop's families, device types and wire colours. */
export function useLibrary(): Library {
  const families = useQuery({ queryKey: keys.families, queryFn: () => given(api.GET('/api/families')) });
  const devices = useQuery({
    queryKey: keys.deviceTypes,
    queryFn: () => given(api.GET('/api/device-types')),
    staleTime: Infinity,
  });
  const colours = useQuery({
    queryKey: keys.colours,
    queryFn: () => given(api.GET('/api/colours')),
    staleTime: Infinity,
  });
  const words = useQuery({
    queryKey: keys.vocabulary,
    queryFn: () => given(api.GET('/api/vocabulary')),
    staleTime: Infinity,
  });
  return useMemo(
    () => ({
      families: families.data ?? [],
      ids: families.data?.map((f) => f.id) ?? [],
      devices: (devices.data ?? []) as unknown as DeviceType[],
      palette: new Map(colours.data?.map((c) => [c.code, c.hex])),
      words: words.data ?? noWords,
    }),
    [families.data, devices.data, colours.data, words.data],
  );
}

/** The file with a copy of each library family that its connectors name and that it has not got yet. */
export function withFamiliesUsed(file: LoomFile, library: Library): LoomFile {
  const own = new Set(listOf(file, 'families').map((f) => f.id));
  const wanted = new Set(listOf(file, 'connectors').map((c) => c.family));
  const added = library.families.filter((f) => wanted.has(f.id) && !own.has(f.id)).map((f) => f.body as LoomFile);
  return added.length === 0 ? file : withList(file, 'families', [...listOf(file, 'families'), ...added]);
}
