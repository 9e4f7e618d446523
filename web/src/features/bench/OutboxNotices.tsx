import { Button } from '../../ui/Controls';
import { readingText, sentValue } from '../../ui/readings';
import { useOutbox } from './Outbox';
import { nobody, type Waiting } from './outboxStore';

const count = (n: number) => (n === 1 ? '1 reading' : `${n} readings`);

/** What must be known on every page about readings that are not at the server. */
export function OutboxNotices() {
  const { waiting, others, refused, unkept, putAway, claim } = useOutbox();
  const names = [...new Set(others.map((o) => o.person.name))];
  const unsafe = waiting.filter((w) => unkept.has(w.key));
  if (names.length === 0 && refused.length === 0 && unsafe.length === 0) return null;
  return (
    <aside aria-label="Readings that are not at the server" className="border-b-4 border-fail bg-card text-lg">
      {unsafe.length > 0 && (
        <p role="alert" className="px-4 py-2">
          <b>This browser cannot keep readings.</b> {count(unsafe.length)} {unsafe.length === 1 ? 'lives' : 'live'} only
          in this page: do not close or reload it before {unsafe.length === 1 ? 'it is' : 'they are'} saved.
          <List readings={unsafe} />
        </p>
      )}
      {names.map((name) => {
        const theirs = others.filter((o) => o.person.name === name);
        return (
          <p key={name} role="status" className="flex flex-wrap items-center gap-3 px-4 py-2">
            <span>
              <b>
                {count(theirs.length)} of {name} {theirs.length === 1 ? 'waits' : 'wait'} in this browser.
              </b>{' '}
              {theirs[0]?.person.id === nobody.id
                ? 'If you took them, have them sent under your name.'
                : `${theirs.length === 1 ? 'It is' : 'They are'} sent when ${name} signs in here.`}
            </span>
            {theirs[0]?.person.id === nobody.id && <Button onClick={() => void claim()}>They are mine</Button>}
          </p>
        );
      })}
      {refused.length > 0 && (
        <div role="alert" className="flex flex-wrap items-center gap-3 px-4 py-2">
          <div className="min-w-0">
            <b>{count(refused.length)} could not be taken.</b> Write down what you still need.
            <ul className="list-disc pl-6">
              {refused.slice(0, 5).map((w) => (
                <li key={w.key}>
                  Step {w.reading.step}, {text(w)}: {w.refused}
                </li>
              ))}
            </ul>
            {refused.length > 5 && <p>and {refused.length - 5} more</p>}
          </div>
          <Button onClick={() => void putAway(refused.map((w) => w.key))}>Put away</Button>
        </div>
      )}
    </aside>
  );
}

const text = ({ reading }: Waiting) => {
  const { value, unit } = sentValue(reading);
  return readingText(value, unit);
};

function List({ readings }: { readings: readonly Waiting[] }) {
  return (
    <span className="block font-mono">{readings.map((w) => `step ${w.reading.step}: ${text(w)}`).join(' · ')}</span>
  );
}
