/** States a place or a step can be in; each has a shape and a word, and a colour last. */
export type Mark = 'pass' | 'fail' | 'cant-tell' | 'not-tested' | 'skipped' | 'retest';

export const markWords: Record<Mark, string> = {
  pass: 'Pass',
  fail: 'Fail',
  'cant-tell': 'Can’t tell',
  'not-tested': 'Not tested',
  skipped: 'Skipped',
  retest: 'Test again',
};

const colours: Record<Mark, string> = {
  pass: 'text-pass',
  fail: 'text-fail',
  'cant-tell': 'text-doubt',
  'not-tested': 'text-soft',
  skipped: 'text-soft',
  retest: 'text-doubt',
};

/** Filled disc, crossed square, half disc, ring, barred ring, turning ring. */
export function MarkShape({ mark, size = 16 }: { mark: Mark; size?: number }) {
  return (
    <svg
      width={size}
      height={size}
      viewBox="0 0 20 20"
      aria-hidden="true"
      className={`inline-block shrink-0 ${colours[mark]}`}
    >
      {mark === 'pass' && <circle cx="10" cy="10" r="9" fill="currentColor" />}
      {mark === 'fail' && (
        <g fill="none" stroke="currentColor" strokeWidth="3">
          <rect x="2" y="2" width="16" height="16" />
          <path d="M3 3 17 17M17 3 3 17" />
        </g>
      )}
      {mark === 'cant-tell' && (
        <g stroke="currentColor" strokeWidth="2.5">
          <circle cx="10" cy="10" r="8" fill="none" />
          <path d="M10 2a8 8 0 0 0 0 16z" fill="currentColor" />
        </g>
      )}
      {mark === 'not-tested' && <circle cx="10" cy="10" r="8" fill="none" stroke="currentColor" strokeWidth="2.5" />}
      {mark === 'skipped' && (
        <g fill="none" stroke="currentColor" strokeWidth="2.5">
          <circle cx="10" cy="10" r="8" />
          <path d="M5 10h10" />
        </g>
      )}
      {mark === 'retest' && (
        <g fill="none" stroke="currentColor" strokeWidth="2.5">
          <path d="M17.5 8A8 8 0 1 0 18 11" />
          <path d="M18.5 2.5v6h-6" />
        </g>
      )}
    </svg>
  );
}

export function MarkWord({ mark }: { mark: Mark }) {
  return (
    <span className={`inline-flex items-center gap-2 whitespace-nowrap ${colours[mark]}`}>
      <MarkShape mark={mark} />
      {markWords[mark]}
    </span>
  );
}
