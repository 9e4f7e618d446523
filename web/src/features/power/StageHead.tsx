import { useState } from 'react';
import { uuidv7 } from '../../api/uuid';
import { Button, Field, Input } from '../../ui/Controls';
import { ErrorNotice } from '../../ui/Notice';
import { Sheet } from '../../ui/Sheet';
import { useSession } from '../session/useSession';
import type { usePowerUp } from './usePowerUp';
import type { Stage } from './words';

/** A stage's name, how it was passed, and the ways past it that are not its checks. */
export function StageHead({ stage, power }: { stage: Stage; power: ReturnType<typeof usePowerUp> }) {
  const { data: session } = useSession();
  const [way, setWay] = useState<'pass' | 'not-done' | null>(null);
  const lead = session?.person?.role === 'lead';
  const open = stage.state === 'open';
  return (
    <header className="flex flex-wrap items-baseline gap-x-4 gap-y-2">
      <h2 className="text-2xl font-bold">
        {stage.number} {stage.name}
      </h2>
      {stage.pass && <p className="text-doubt">{stage.pass}</p>}
      {stage.state === 'locked' && power.view.data?.begun && (
        <p className="text-soft">Locked: the stages before it come first.</p>
      )}
      {open && (
        <span className="ml-auto flex gap-2">
          {stage.failed === 0 && (
            <Button changes onClick={() => setWay('not-done')}>
              Cannot be done here
            </Button>
          )}
          {lead && (
            <Button changes onClick={() => setWay('pass')}>
              Let it pass
            </Button>
          )}
        </span>
      )}
      {way && <PassSheet stage={stage} notDone={way === 'not-done'} power={power} onClose={() => setWay(null)} />}
    </header>
  );
}

function PassSheet({
  stage,
  notDone,
  power,
  onClose,
}: {
  stage: Stage;
  notDone: boolean;
  power: ReturnType<typeof usePowerUp>;
  onClose: () => void;
}) {
  const [reason, setReason] = useState('');
  const [word, setWord] = useState('');
  const [key] = useState(uuidv7);
  return (
    <Sheet title={`${notDone ? 'Not done' : 'Let pass'}: ${stage.name}`} onClose={onClose}>
      <form
        className="space-y-4"
        onSubmit={(e) => {
          e.preventDefault();
          power.pass.mutate({ key, stage: stage.number, notDone, reason, word }, { onSuccess: onClose });
        }}
      >
        <p>The pack prints what you write here, with your name.</p>
        <Field label="Why" hint={notDone ? 'Such as: no engine on this bench.' : 'What is left, and why it may go on.'}>
          <Input value={reason} onChange={(e) => setReason(e.target.value)} />
        </Field>
        {notDone && (
          <Field label="By whose word">
            <Input value={word} onChange={(e) => setWord(e.target.value)} />
          </Field>
        )}
        <ErrorNotice error={power.pass.error} />
        <div className="flex gap-3">
          <Button changes kind="main" type="submit" disabled={power.pass.isPending}>
            {notDone ? 'It was not done' : 'Let it pass'}
          </Button>
          <Button onClick={onClose}>Back</Button>
        </div>
      </form>
    </Sheet>
  );
}
