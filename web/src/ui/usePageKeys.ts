import { useEffectEvent, useLayoutEffect } from 'react';

/** Keys of the page. A key typed into a field, or with Ctrl, Alt or Meta, is left alone unless the handler says it is for everywhere. */
export function usePageKeys(handle: (event: KeyboardEvent, inField: boolean) => void) {
  const onKey = useEffectEvent((event: KeyboardEvent) => {
    if (event.defaultPrevented || event.ctrlKey || event.altKey || event.metaKey) return;
    const at = event.target instanceof HTMLElement ? event.target : null;
    // While a sheet lies over the page, keys are the sheet's, wherever the focus fell.
    if (at?.closest('[role=listbox]') || document.querySelector('[role=dialog]')) return;
    handle(event, Boolean(at?.closest('input,textarea,select')));
  });
  // Before the page is painted: a key pressed at the first sight of it must not be lost.
  useLayoutEffect(() => {
    const listen = (event: KeyboardEvent) => onKey(event);
    window.addEventListener('keydown', listen);
    return () => window.removeEventListener('keydown', listen);
  }, []);
}
