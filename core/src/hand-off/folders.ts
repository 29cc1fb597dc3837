import { safeFileName } from '../formats/file-name';
import type { Delivery } from '../project/schema';

/** The folder of each delivery, with a slash behind it: none where there is only one. Names differ, also where file systems ignore case. */
export function deliveryFolders(deliveries: readonly Pick<Delivery, 'id' | 'name'>[]): ReadonlyMap<string, string> {
  if (deliveries.length === 1) return new Map([[deliveries[0]!.id, '']]);
  const taken = new Set<string>();
  return new Map(
    deliveries.map(({ id, name }) => {
      const plain = safeFileName(name);
      let free = plain;
      for (let n = 2; taken.has(free.toLowerCase()); n++) free = `${plain}-${n}`;
      taken.add(free.toLowerCase());
      return [id, `${free}/`];
    }),
  );
}
