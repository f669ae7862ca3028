<script setup lang="ts">
/** What do callipers say? Click a dimension on the outline, type, Enter goes to the next. */
import { useQuery } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'
import type { Schemas } from '@/api/client'
import { teardownQuery, vocabularyQuery } from '@/api/queries'
import { statorOfCode } from '@/cutaway/dimensions'
import { readNumber } from '@/figures/readNumber'
import MeasureFields from './MeasureFields.vue'
import { OUTSIDE_KEYS, type Known } from './outside'
import OutsideDrawing from './OutsideDrawing.vue'

const props = defineProps<{ file: Schemas['MotorFile']; sample: number }>()
const { data: vocabulary } = useQuery(vocabularyQuery())
const { data: sheet } = useQuery(
  computed(() => ({ ...teardownQuery(props.sample), enabled: props.sample > 0 })),
)
const chosen = ref(OUTSIDE_KEYS[0] as string)
const fields = ref<InstanceType<typeof MeasureFields> | null>(null)
const typing = ref<{ key: string; value: number } | null>(null)
watch(
  () => props.sample,
  () => (typing.value = null),
)

const attributes = computed(
  () => new Map((vocabulary.value?.attributes ?? []).map((a) => [a.key, a])),
)
const known = computed<Known>(() => {
  const found: Known = {}
  for (const seen of sheet.value?.observations ?? [])
    if (typeof seen.value === 'number' && ['measured', 'observed'].includes(seen.status))
      found[seen.attribute] = seen.value
  if (typing.value) found[typing.value.key] = typing.value.value
  return found
})

function typed(key: string, text: string) {
  const value = readNumber(text)
  const attribute = attributes.value.get(key)
  const possible =
    value !== null && attribute && value >= attribute.low && value <= (attribute.high ?? Infinity)
  typing.value = possible ? { key, value } : null
}

function choose(key: string) {
  chosen.value = key
  fields.value?.focus(key)
}
</script>

<template>
  <div class="halves">
    <section class="sheet">
      <OutsideDrawing
        :known="known"
        :code="statorOfCode(file.motor.size_code ?? '', file.motor.size_basis ?? '')"
        :chosen="chosen"
        :attributes="attributes"
        :name="file.motor.full_name"
        @choose="choose"
      />
    </section>
    <section class="sheet">
      <MeasureFields
        ref="fields"
        :sample="sample"
        :keys="OUTSIDE_KEYS"
        :chosen="chosen"
        @at="chosen = $event"
        @typed="typed"
      />
    </section>
  </div>
</template>

<style scoped src="./intake.css"></style>
