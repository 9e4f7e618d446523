import { useState } from 'react';
import { uuidv7 } from '../../api/uuid';
import { Button, Field, Input } from '../../ui/Controls';
import { ErrorNotice, Notice } from '../../ui/Notice';
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
      {stage.proposal && <p className="text-doubt">{stage.proposal}</p>}
      {stage.state === 'locked' && power.view.data?.begun && (
        <p className="text-soft">Locked: the stages before it come first.</p>
      )}
      {stage.failedBefore.map((f) => (
        <Notice key={f} tone="wrong">
          <b>Failed before the bench was changed.</b> {f}
        </Notice>
      ))}
      {(open || (!lead && stage.state === 'locked')) && power.view.data?.begun && (
        <span className="ml-auto flex gap-2">
          {stage.failed === 0 && stage.failedBefore.length === 0 && (
            <Button changes onClick={() => setWay('not-done')}>
              {lead ? 'Cannot be done here' : 'Propose as not done'}
            </Button>
          )}
          {lead && (
            <Button changes onClick={() => setWay('pass')}>
              Let it pass
            </Button>
          )}
        </span>
      )}
      {way && (
        <PassSheet stage={stage} notDone={way === 'not-done'} lead={lead} power={power} onClose={() => setWay(null)} />
      )}
    </header>
  );
}

function PassSheet({
  stage,
  notDone,
  lead,
  power,
  onClose,
}: {
  stage: Stage;
  notDone: boolean;
  lead: boolean;
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
        <p>
          {lead
            ? 'The pack prints what you write here, with your name.'
            : 'A lead decides. Until then the stages after this one stay locked.'}
        </p>
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
            {!notDone ? 'Let it pass' : lead ? 'It was not done' : 'Propose it'}
          </Button>
          <Button onClick={onClose}>Back</Button>
        </div>
      </form>
    </Sheet>
  );
}
