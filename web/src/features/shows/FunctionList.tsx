import type { Schemas } from '../../api/client';

type Function = Schemas['FunctionState'];

/** What the loom is for, and whether it can be had in this key position: works now first, then what needs an output, then what does not. */
export function FunctionList({ functions }: { functions: readonly Function[] }) {
  const groups: [string, string, Function[]][] = [
    ['Works now', '●', functions.filter((f) => f.now)],
    ['Works when it is driven', '◐', functions.filter((f) => f.works && !f.now)],
    ['Does not work in this position', '○', functions.filter((f) => !f.works)],
  ];
  return (
    <section aria-label="Functions" className="space-y-4">
      {groups
        .filter(([, , of]) => of.length > 0)
        .map(([title, sign, of]) => (
          <div key={title}>
            <h2 className="font-bold">
              <span aria-hidden="true">{sign} </span>
              {title} <span className="font-normal text-soft">{of.length}</span>
            </h2>
            <ul className="text-[0.95rem]">
              {of.map((f) => (
                <li key={f.name} className="border-t border-line py-1">
                  {f.name}
                  <span className="block text-sm text-soft">{f.sentence}</span>
                </li>
              ))}
            </ul>
          </div>
        ))}
    </section>
  );
}
