import { Button } from './Controls';

/** A page that could not be drawn; what was entered and measured is not lost by it. */
export function Broken() {
  return (
    <div className="mx-auto max-w-2xl space-y-4 p-8">
      <h2 className="text-3xl font-bold">This page could not be drawn.</h2>
      <p className="text-lg">
        Readings that were taken are kept. Load the page again; if it happens once more, tell the lead what you did just
        before.
      </p>
      <Button kind="main" onClick={() => location.reload()}>
        Load again
      </Button>
    </div>
  );
}
