import { Button, Field, Input, Select } from '../../ui/Controls';
import type { Power, Written } from './figures';

const schools = [
  ['bench', 'on the bench, without an engine', 6],
  ['test-engine', 'on a test engine', 9],
  ['vehicle', 'in the vehicle', 9],
] as const;

/** How the shop's looms have their first power: where, which stages are asked for before release, and the controllers that answer. */
export function PowerUpTemplate({
  mine,
  lead,
  wrong,
  onChange,
}: {
  mine: Written;
  lead: boolean;
  wrong: (at: string) => string | undefined;
  onChange: (power: Power) => void;
}) {
  const { power } = mine;
  const stages = schools.find(([word]) => word === power.school)?.[2] ?? 9;
  const change = (to: Partial<Power>) => lead && onChange({ ...power, ...to });
  const controller = (i: number, to: Partial<Power['controllers'][number]>) =>
    change({ controllers: power.controllers.map((c, n) => (n === i ? { ...c, ...to } : c)) });
  return (
    <section aria-label="Power-up" className="space-y-3">
      <h2 className="text-xl font-bold">Power-up</h2>
      <Field label="First power" error={wrong('/powerUp/school')}>
        <Select value={power.school} onChange={(e) => change({ school: e.target.value, required: [] })}>
          {schools.map(([word, said]) => (
            <option key={word} value={word}>
              {said}
            </option>
          ))}
        </Select>
      </Field>
      <fieldset className="space-y-1">
        <legend>Stages without which no loom is released</legend>
        <div className="flex flex-wrap gap-x-4">
          {Array.from({ length: stages }, (_, i) => i + 1).map((n) => (
            <label key={n} className="flex min-h-11 items-center gap-2">
              <input
                type="checkbox"
                className="size-5 accent-copper"
                checked={power.required.includes(n)}
                disabled={!lead}
                onChange={(e) =>
                  change({
                    required: e.target.checked
                      ? [...power.required, n].sort((a, b) => a - b)
                      : power.required.filter((x) => x !== n),
                  })
                }
              />
              {n}
            </label>
          ))}
        </div>
        {wrong('/powerUp/required') && <p className="text-fail">{wrong('/powerUp/required')}</p>}
      </fieldset>
      <Field label="A first run without coolant, s" hint="usual: 60" error={wrong('/powerUp/secondsDry')}>
        <Input
          inputMode="decimal"
          readOnly={!lead}
          value={power.secondsDry}
          onChange={(e) => change({ secondsDry: e.target.value })}
        />
      </Field>
      <h3 className="font-bold">Controllers that answer on a line</h3>
      {power.controllers.map((c, i) => (
        <div key={i} className="grid items-end gap-2 border-2 border-edge p-2 sm:grid-cols-[2fr_2fr_5rem_auto]">
          <Field label="Name" error={wrong(`/powerUp/controllers/${i}/name`)}>
            <Input readOnly={!lead} value={c.name} onChange={(e) => controller(i, { name: e.target.value })} />
          </Field>
          <Field label="Host" error={wrong(`/powerUp/controllers/${i}/host`)}>
            <Input readOnly={!lead} value={c.host} onChange={(e) => controller(i, { host: e.target.value })} />
          </Field>
          <Field label="Port" error={wrong(`/powerUp/controllers/${i}/port`)}>
            <Input
              inputMode="numeric"
              readOnly={!lead}
              value={c.port}
              onChange={(e) => controller(i, { port: e.target.value })}
            />
          </Field>
          {lead && (
            <Button onClick={() => change({ controllers: power.controllers.filter((_, n) => n !== i) })}>
              Take out
            </Button>
          )}
        </div>
      ))}
      {lead && (
        <Button onClick={() => change({ controllers: [...power.controllers, { name: '', host: '', port: '7153' }] })}>
          Add a controller
        </Button>
      )}
    </section>
  );
}
