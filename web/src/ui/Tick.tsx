import { useState } from 'react';

/** A tick box that shows a click at once, also where what it stands for is kept elsewhere and follows later. */
export function Tick({ checked, onChange }: { checked: boolean; onChange: (now: boolean) => void }) {
  const [shown, setShown] = useState({ of: checked, now: checked });
  if (shown.of !== checked) setShown({ of: checked, now: checked });
  return (
    <input
      type="checkbox"
      className="size-5 shrink-0 accent-copper"
      checked={shown.now}
      onChange={(e) => {
        setShown({ of: checked, now: e.target.checked });
        onChange(e.target.checked);
      }}
    />
  );
}
