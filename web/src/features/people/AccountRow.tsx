import type { Schemas } from '../../api/client';

const day = (time: string) => new Date(time).toLocaleString(undefined, { dateStyle: 'medium', timeStyle: 'short' });

/** What stands in the way of signing in; empty when nothing does. */
function state(a: Schemas['AccountView']): string {
  if (a.disabled) return 'disabled';
  if (a.hasPassword) return a.demo ? 'of the example world' : '';
  return a.linkExpires ? `link open until ${day(a.linkExpires)}` : 'no password, no link open';
}

/** One account in a line; it opens to be changed. */
export function AccountRow({
  account: a,
  open,
  onOpen,
}: {
  account: Schemas['AccountView'];
  open: boolean;
  onOpen: () => void;
}) {
  return (
    <button
      type="button"
      aria-expanded={open}
      onClick={onOpen}
      className="grid w-full cursor-pointer grid-cols-2 items-center gap-x-4 gap-y-1 px-4 py-3 text-left hover:text-copper md:grid-cols-[minmax(0,1.6fr)_7rem_minmax(0,1.2fr)_minmax(0,1.4fr)]"
    >
      <span className="min-w-0">
        <span className={`block truncate text-lg font-bold ${a.disabled ? 'line-through' : ''}`}>{a.name}</span>
        <span className="font-mono text-sm text-soft">{a.signIn}</span>
      </span>
      <span className="font-bold">{a.role}</span>
      <span className={a.disabled || !a.hasPassword ? 'font-bold text-doubt' : 'text-soft'}>{state(a)}</span>
      <span className="text-sm text-soft">
        {a.sessions > 0 ? `signed in ${a.sessions === 1 ? 'once' : `${a.sessions} times`}` : 'not signed in'}
        <span className="block">{a.lastIn ? `last came in ${day(a.lastIn)}` : 'never came in'}</span>
      </span>
    </button>
  );
}
