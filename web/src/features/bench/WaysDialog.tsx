import { Button } from '../../ui/Controls';
import { Sheet } from '../../ui/Sheet';
import type { Going } from './useGoing';

const ways: { going: Going; name: string; text: string }[] = [
  {
    going: { way: 'hands-free', stopAtFail: true },
    name: 'Hands-free',
    text: 'Each reading is taken when the meter holds still. Tone and voice say the verdict and the next places; it stops at a step that fails.',
  },
  {
    going: { way: 'by-itself', stopAtFail: true },
    name: 'By itself, to the first fail',
    text: 'The fixture takes the plan at the meter’s speed and stops where a step fails.',
  },
  {
    going: { way: 'by-itself', stopAtFail: false },
    name: 'By itself, to the end',
    text: 'The fixture takes the whole plan; what fails is there to look at afterwards.',
  },
];

/** Ways of taking readings without a key. */
export function WaysDialog({
  matrix,
  onClose,
}: {
  /** Whether the instrument closes the way to both places by itself. */
  matrix: boolean;
  onClose: (going: Going | null) => void;
}) {
  return (
    <Sheet title="Take readings without a key" onClose={() => onClose(null)}>
      <ul className="space-y-3">
        {ways
          .filter((w) => matrix || w.going.way === 'hands-free')
          .map((w) => (
            <li key={w.name} className="flex items-center gap-4">
              <Button kind="main" changes className="min-h-14 w-64 shrink-0" onClick={() => onClose(w.going)}>
                {w.name}
              </Button>
              <p>{w.text}</p>
            </li>
          ))}
      </ul>
      <p className="mt-4 text-soft">Escape stops it. Every reading is kept as it is taken, as with the key.</p>
    </Sheet>
  );
}
