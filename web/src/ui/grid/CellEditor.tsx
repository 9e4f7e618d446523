import { useEffect, useId, useRef, useState } from 'react';

/** How an edit ends: where the grid goes next. */
export type EditEnd = 'down' | 'right' | 'left' | 'stay' | 'cancel';

const pause = 120;
const most = 8;

/** The field of the cell that is being edited; completes from options, and lets others see what was typed whenever it pauses. */
export function CellEditor({
  label,
  start,
  options,
  onLive,
  onEnd,
}: {
  label: string;
  start: string;
  options: readonly string[];
  onLive: (text: string) => void;
  onEnd: (text: string, end: EditEnd) => void;
}) {
  const [text, setText] = useState(start);
  const [chosen, setChosen] = useState(-1);
  const input = useRef<HTMLInputElement>(null);
  const ended = useRef(false);
  const list = useId();
  const fitting = options.length > 0 && text !== '' ? fit(options, text) : [];

  useEffect(() => {
    input.current?.focus();
    input.current?.setSelectionRange(start.length, start.length);
  }, [start]);
  useEffect(() => {
    if (text === start) return;
    const due = setTimeout(() => onLive(text), pause);
    return () => clearTimeout(due);
  }, [text, start, onLive]);

  const end = (how: EditEnd, value = text) => {
    if (ended.current) return;
    ended.current = true;
    onEnd(value, how);
  };
  const complete = () => fitting[chosen] ?? text;
  const key = (event: React.KeyboardEvent) => {
    const move = { ArrowDown: 1, ArrowUp: -1 }[event.key];
    if (move !== undefined && fitting.length > 0) {
      event.preventDefault();
      setChosen((now) => Math.max(-1, Math.min(fitting.length - 1, now + move)));
    } else if (event.key === 'Enter' || event.key === 'Tab' || move !== undefined) {
      event.preventDefault();
      end(event.key === 'Tab' ? (event.shiftKey ? 'left' : 'right') : 'down', complete());
    } else if (event.key === 'Escape') {
      event.preventDefault();
      end('cancel', start);
    }
    event.stopPropagation();
  };
  return (
    <div className="absolute inset-0 z-20">
      <input
        ref={input}
        aria-label={label}
        role="combobox"
        aria-expanded={fitting.length > 0}
        aria-controls={list}
        aria-autocomplete="list"
        aria-activedescendant={chosen >= 0 ? `${list}-${chosen}` : undefined}
        value={text}
        onChange={(e) => {
          setText(e.target.value);
          setChosen(-1);
        }}
        onKeyDown={key}
        onPaste={(e) => e.stopPropagation()}
        onCopy={(e) => e.stopPropagation()}
        onBlur={() => end('stay')}
        className="h-full w-full border-2 border-copper bg-card px-2 font-mono text-ink outline-none"
      />
      <ul
        id={list}
        role="listbox"
        aria-label={`What can stand in ${label}`}
        className={`absolute top-full left-0 min-w-full border-2 border-copper bg-card shadow-lg ${fitting.length === 0 ? 'hidden' : ''}`}
      >
        {fitting.map((o, i) => (
          <li
            key={o}
            id={`${list}-${i}`}
            role="option"
            aria-selected={i === chosen}
            className={`px-2 py-1 font-mono whitespace-nowrap ${i === chosen ? 'bg-copper text-on-copper' : ''}`}
            onPointerDown={(e) => {
              e.preventDefault();
              end('right', o);
            }}
          >
            {o}
          </li>
        ))}
      </ul>
    </div>
  );
}

/** Options that begin with the text, then those that hold it. */
function fit(options: readonly string[], text: string): string[] {
  const wanted = text.toLowerCase();
  const found: string[] = [];
  const later: string[] = [];
  for (const option of options) {
    const small = option.toLowerCase();
    if (small === wanted) continue;
    if (small.startsWith(wanted)) found.push(option);
    else if (later.length < most && small.includes(wanted)) later.push(option);
    if (found.length >= most) break;
  }
  return [...found, ...later].slice(0, most);
}
