import { Button, ButtonLink } from '../../ui/Controls';
import { KeyList } from '../../ui/KeyList';
import { Sheet } from '../../ui/Sheet';

const keys: [string, string][] = [
  ['Space', 'take a reading from the meter'],
  ['Space, X', 'at a look: all as it should be, or not so'],
  ['0 – 9', 'type a reading: 72m, 1.2, 12k, OL for over range; Enter takes it'],
  ['Enter', 'accept and go on to the next step'],
  ['F', 'log a fault here (when the step fails)'],
  ['R', 'go to the next retest'],
  ['T', 'turn the faces: wire side, mating face'],
  ['Y', 'why these limits'],
  ['B', 'take readings without a key: hands-free, or the fixture by itself; Escape stops'],
  ['C', 'is the meter right: lead zero, range, known link'],
  ['G', 'share the plan: who does which connectors'],
  ['W', 'move the loom: read without a pause while it is flexed'],
  ['N', 'connectors that are not at hand: their steps wait'],
  ['P', 'the plan'],
  ['S', 'skip this step, with a reason'],
  ['V', 'voice and tones on or off'],
  ['← →', 'the step before, the step after'],
  ['?', 'this list'],
];

export function KeysDialog({ onClose }: { onClose: () => void }) {
  return (
    <Sheet title="Keys of this page" onClose={onClose}>
      <KeyList keys={keys} />
      <p className="mt-4 text-soft">
        A keypad alone is enough: digits and Enter, / for m, * for k, ** for M, + for over range; with nothing typed *
        takes a reading and − goes back.
      </p>
      <p className="mt-2 text-soft">A foot switch that sends Space or Enter works as those keys.</p>
      <div className="mt-4 flex flex-wrap gap-3">
        <Button kind="main" onClick={onClose}>
          Back to the bench
        </Button>
        <ButtonLink to="?another">Start another run …</ButtonLink>
      </div>
    </Sheet>
  );
}
