import type { Schemas } from '../../api/client';

/** Which sections the shop's packs have. */
export function PackTemplate({
  sections,
  leftOut,
  lead,
  wrong,
  onChange,
}: {
  sections: readonly Schemas['PackSection'][];
  leftOut: readonly string[];
  lead: boolean;
  wrong: string | undefined;
  onChange: (leftOut: string[]) => void;
}) {
  return (
    <fieldset className="space-y-1">
      <legend className="text-xl font-bold">What a pack holds</legend>
      {sections.map((s) => (
        <label key={s.id} className="flex min-h-11 items-center gap-3">
          <input
            type="checkbox"
            className="size-5 accent-copper"
            checked={!leftOut.includes(s.id)}
            disabled={!lead || !s.mayBeLeftOut}
            onChange={(e) => onChange(e.target.checked ? leftOut.filter((id) => id !== s.id) : [...leftOut, s.id])}
          />
          <span>
            {s.title}
            {!s.mayBeLeftOut && <span className="text-soft">, always</span>}
          </span>
        </label>
      ))}
      {wrong && <p className="text-fail">{wrong}</p>}
    </fieldset>
  );
}
