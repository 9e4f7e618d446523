import type { Schemas } from '../../api/client';
import { Field, Select } from '../../ui/Controls';

type Template = Schemas['PackTemplate'];
type Paper = NonNullable<Template['paper']>;
const papers: [Paper, string][] = [
  ['a4', 'A4'],
  ['letter', 'Letter'],
];
type Labels = NonNullable<Template['labels']>;
const labels: [Labels, string][] = [
  ['all', 'every connector'],
  ['mistaken', 'only what can be mistaken'],
];

/** Which sections the shop's packs have, and what they are printed on. */
export function PackTemplate({
  sections,
  pack,
  lead,
  wrong,
  onChange,
}: {
  sections: readonly Schemas['PackSection'][];
  pack: Template;
  lead: boolean;
  wrong: string | undefined;
  onChange: (pack: Template) => void;
}) {
  return (
    <fieldset className="space-y-1">
      <legend className="text-xl font-bold">What a pack holds</legend>
      {sections.map((s) => (
        <label key={s.id} className="flex min-h-11 items-center gap-3">
          <input
            type="checkbox"
            className="size-5 accent-copper"
            checked={!pack.leftOut.includes(s.id)}
            disabled={!lead || !s.mayBeLeftOut}
            onChange={(e) =>
              onChange({
                ...pack,
                leftOut: e.target.checked ? pack.leftOut.filter((id) => id !== s.id) : [...pack.leftOut, s.id],
              })
            }
          />
          <span>
            {s.title}
            {!s.mayBeLeftOut && <span className="text-soft">, always</span>}
          </span>
        </label>
      ))}
      <Choice
        label="Printed on"
        value={pack.paper ?? 'a4'}
        among={papers}
        onChange={(paper) => lead && onChange({ ...pack, paper })}
      />
      <Choice
        label="Labelled"
        value={pack.labels ?? 'all'}
        among={labels}
        onChange={(chosen) => lead && onChange({ ...pack, labels: chosen })}
      />
      {wrong && <p className="text-fail">{wrong}</p>}
    </fieldset>
  );
}

/** One of a few. */
function Choice<T extends string>({
  label,
  value,
  among,
  onChange,
}: {
  label: string;
  value: T;
  among: readonly [T, string][];
  onChange: (value: T) => void;
}) {
  return (
    <Field label={label}>
      <Select value={value} onChange={(e) => onChange(e.target.value as T)}>
        {among.map(([of, title]) => (
          <option key={of} value={of}>
            {title}
          </option>
        ))}
      </Select>
    </Field>
  );
}
