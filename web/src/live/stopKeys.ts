/** Space and Esc cut the throttle whatever has the focus. */
export function isStopKey(event: KeyboardEvent): boolean {
  return event.key === ' ' || event.code === 'Space' || event.key === 'Escape'
}

/** Whether a key would open the list of a native select. */
function opensList(event: KeyboardEvent): boolean {
  const arrow = event.altKey && (event.key === 'ArrowDown' || event.key === 'ArrowUp')
  return event.target instanceof HTMLSelectElement && (arrow || ['Enter', 'F4'].includes(event.key))
}

/**
 * Catch the stop keys before anything else sees them, while there is something to cut.
 * Returns the clean-up.
 *
 * A list of a native select that is open keeps its keys to itself, so none is opened meanwhile.
 */
export function catchStopKeys(canCut: () => boolean, stop: () => void): () => void {
  const onKey = (event: KeyboardEvent) => {
    if (!canCut()) return
    if (opensList(event)) event.preventDefault()
    if (!isStopKey(event)) return
    event.preventDefault()
    event.stopImmediatePropagation()
    // A key held down is one stop.
    if (!event.repeat) stop()
  }
  // Letting go of Space must not press the button that has the focus.
  const onUp = (event: KeyboardEvent) => {
    if (canCut() && isStopKey(event)) {
      event.preventDefault()
      event.stopImmediatePropagation()
    }
  }
  const onPointer = (event: Event) => {
    const target = event.target as Element | null
    if (canCut() && target?.closest('select')) event.preventDefault()
  }
  const capture = { capture: true }
  window.addEventListener('keydown', onKey, capture)
  window.addEventListener('keyup', onUp, capture)
  window.addEventListener('mousedown', onPointer, capture)
  return () => {
    window.removeEventListener('keydown', onKey, capture)
    window.removeEventListener('keyup', onUp, capture)
    window.removeEventListener('mousedown', onPointer, capture)
  }
}
