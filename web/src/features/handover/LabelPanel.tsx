import { useState } from 'react';
import { Field, Input, Select } from '../../ui/Controls';

/** Labels for the connectors, to be printed from the browser at their own size. */
export function LabelPanel({ job }: { job: number }) {
  const [kind, setKind] = useState('flag');
  const [paper, setPaper] = useState('a4');
  const [which, setWhich] = useState('');
  const [link, setLink] = useState('');
  return (
    <section aria-labelledby="labels" className="space-y-3 border-2 border-edge bg-card p-4">
      <h2 id="labels" className="text-xl font-bold">
        Labels
      </h2>
      <div className="grid gap-3 sm:grid-cols-3">
        <Field label="Kind">
          <Select value={kind} onChange={(e) => setKind(e.target.value)}>
            <option value="flag">flag, folded over</option>
            <option value="wrap">wrap, read all round</option>
            <option value="plain">plain</option>
          </Select>
        </Field>
        <Field label="Paper">
          <Select value={paper} onChange={(e) => setPaper(e.target.value)}>
            <option value="a4">A4</option>
            <option value="letter">Letter</option>
            <option value="strip">strip, 24 mm</option>
          </Select>
        </Field>
        <Field label="Which connectors">
          <Select value={which} onChange={(e) => setWhich(e.target.value)}>
            <option value="">as the shop does</option>
            <option value="all">all</option>
            <option value="mistaken">those that can be mistaken</option>
          </Select>
        </Field>
      </div>
      <Field label="Share link that the codes lead to" hint="Leave it out for codes with plain text.">
        <Input value={link} onChange={(e) => setLink(e.target.value)} />
      </Field>
      <a
        className="inline-block min-h-6 font-bold underline"
        href={`/api/jobs/${job}/labels?kind=${kind}&paper=${paper}${which && `&which=${which}`}${link && `&link=${encodeURIComponent(link)}`}`}
        target="_blank"
        rel="noreferrer"
      >
        Open the sheet, to print it
      </a>{' '}
      <a
        className="ml-4 inline-block min-h-6 font-bold underline"
        href={`/api/jobs/${job}/fuse-card`}
        target="_blank"
        rel="noreferrer"
      >
        Fuse and relay card
      </a>
    </section>
  );
}
