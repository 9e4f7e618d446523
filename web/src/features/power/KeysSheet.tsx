import { Button } from '../../ui/Controls';
import { KeyList } from '../../ui/KeyList';
import { Sheet } from '../../ui/Sheet';

const keys: [string, string][] = [
  ['C', 'the cautions of this card are read'],
  ['Space', 'measure, look, or ask the controller that is chosen'],
  ['Enter', 'it is as it should be'],
  ['X', 'it is not'],
  ['D', 'drive this output, five short pulses'],
  ['Escape', 'switch off what is driven'],
  ['0 – 9', 'type what the meter shows: 12.6, 250m; Enter keeps it'],
  ['N', 'the next check'],
  ['?', 'this list'],
];

export function KeysSheet({ onClose }: { onClose: () => void }) {
  return (
    <Sheet title="Keys of this page" onClose={onClose}>
      <KeyList keys={keys} />
      <div className="mt-4">
        <Button kind="main" onClick={onClose}>
          Back to the checks
        </Button>
      </div>
    </Sheet>
  );
}
