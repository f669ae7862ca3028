/** Space and Esc cut the throttle whatever has the focus. */
export function isStopKey(event: KeyboardEvent): boolean {
  return event.key === ' ' || event.key === 'Escape'
}

/**
 * Catch the stop keys before anything else sees them, while the bench is hot.
 * Returns the clean-up.
 */
export function catchStopKeys(isHot: () => boolean, stop: () => void): () => void {
  const onKey = (event: KeyboardEvent) => {
    if (!isHot() || !isStopKey(event)) return
    event.preventDefault()
    event.stopImmediatePropagation()
    // A key held down is one stop.
    if (!event.repeat) stop()
  }
  window.addEventListener('keydown', onKey, { capture: true })
  return () => window.removeEventListener('keydown', onKey, { capture: true })
}
