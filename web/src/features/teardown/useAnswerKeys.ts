/** One key per answer: what is pressed anywhere on the page goes to the question that is shown. */
import { useEventListener } from '@vueuse/core'
import type { Ref } from 'vue'
import type { Schemas } from '@/api/client'
import { answerOfKey, answerOfSign, isUnitBeingTyped, type Reference } from './answers'

interface Panel {
  focusNote: () => void
  answer: (answer: Partial<Schemas['ObservationRequest']>) => void
}

export function useAnswerKeys(page: {
  question: Ref<Schemas['Attribute'] | undefined>
  reference: Ref<Reference | null>
  panel: Ref<Panel | null>
  /** To the next question (1) or the one before (-1). */
  step: (by: 1 | -1) => void
}) {
  const { question, reference, panel, step } = page
  useEventListener(window, 'keydown', (event: KeyboardEvent) => {
    if (event.ctrlKey || event.metaKey || event.altKey || !question.value) return
    const field = (event.target as HTMLElement).closest?.('input, textarea, select')
    const inNumber = Boolean(field?.closest('.number'))
    if (field && !inNumber) return
    if (event.key === 'ArrowDown' || event.key === 'ArrowUp') {
      event.preventDefault()
      step(event.key === 'ArrowDown' ? 1 : -1)
      return
    }
    if (inNumber && isUnitBeingTyped(field as HTMLInputElement, event.key)) return
    if (event.key === 'n') {
      event.preventDefault()
      panel.value?.focusNote()
      return
    }
    const answer =
      answerOfSign(question.value, event.key, reference.value) ??
      (inNumber ? null : answerOfKey(question.value, event.key))
    if (!answer) return
    event.preventDefault()
    panel.value?.answer(answer)
  })
}
