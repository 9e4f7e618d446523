import { Key } from './Controls';

/** Keys of a page and what each does. */
export function KeyList({ keys }: { keys: readonly (readonly [key: string, what: string])[] }) {
  return (
    <dl className="grid grid-cols-[7rem_1fr] gap-x-4 gap-y-2">
      {keys.map(([key, what]) => (
        <div key={key} className="contents">
          <dt>
            <Key>{key}</Key>
          </dt>
          <dd>{what}</dd>
        </div>
      ))}
    </dl>
  );
}
