import type { Schemas } from '../../api/client';

/** What a run asks for beside the bare loom. */
export interface Beyond {
  /** Refs of devices that are plugged in for the readings through them. */
  fitted: readonly string[];
  pulls: boolean;
  looks: boolean;
}

/** Chooses what comes after the bare loom: devices plugged in, crimp samples, looks. */
export function BeyondBare({
  devices,
  value,
  onChange,
}: {
  devices: readonly Schemas['PluggableView'][];
  value: Beyond;
  onChange: (value: Beyond) => void;
}) {
  const all = devices.map((d) => d.ref);
  const isAll = all.length > 0 && value.fitted.length === all.length;
  return (
    <fieldset>
      <legend className="mb-1 font-bold">After the bare loom</legend>
      <div className="grid gap-x-6 sm:grid-cols-3">
        <Choice
          name="Look it over"
          text="Every plug, ring and twisted pair: seals, locks, contacts, bare metal; photos."
          checked={value.looks}
          onChange={(looks) => onChange({ ...value, looks })}
        />
        <Choice
          name="Pull crimp samples"
          text="For each section in each kind of housing, as the shop’s table says."
          checked={value.pulls}
          onChange={(pulls) => onChange({ ...value, pulls })}
        />
        {devices.length > 0 && (
          <Choice
            name="Read through devices"
            text={`${value.fitted.length} of ${devices.length} plugged in: coils, sensors, diodes both ways, terminated pairs.`}
            checked={value.fitted.length > 0}
            onChange={(on) => onChange({ ...value, fitted: on ? all : [] })}
          />
        )}
      </div>
      {value.fitted.length > 0 && (
        <details className="mt-1">
          <summary className="min-h-10 cursor-pointer py-2 font-bold">
            Which devices{isAll ? ': all of them' : `: ${value.fitted.length} of ${devices.length}`}
          </summary>
          <div className="grid max-h-64 overflow-y-auto sm:grid-cols-2">
            {devices.map((d) => (
              <label key={d.ref} className="flex min-h-11 cursor-pointer items-center gap-3">
                <input
                  type="checkbox"
                  className="size-5 accent-copper"
                  checked={value.fitted.includes(d.ref)}
                  onChange={(e) =>
                    onChange({
                      ...value,
                      fitted: e.target.checked ? [...value.fitted, d.ref] : value.fitted.filter((f) => f !== d.ref),
                    })
                  }
                />
                {d.title}
              </label>
            ))}
          </div>
        </details>
      )}
    </fieldset>
  );
}

function Choice({
  name,
  text,
  checked,
  onChange,
}: {
  name: string;
  text: string;
  checked: boolean;
  onChange: (checked: boolean) => void;
}) {
  return (
    <label className={`flex cursor-pointer gap-3 border-2 bg-card p-3 ${checked ? 'border-copper' : 'border-edge'}`}>
      <input
        type="checkbox"
        className="mt-1 size-5 shrink-0 accent-copper"
        checked={checked}
        onChange={(e) => onChange(e.target.checked)}
      />
      <span>
        <b className="block">{name}</b>
        {text}
      </span>
    </label>
  );
}
