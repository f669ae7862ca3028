<script setup lang="ts">
/** Whose hand the throttle is in, and which of the known stands is driven or read. */
import { computed, ref, watch } from 'vue'
import { api, dataOf, sentenceOf } from '@/api/client'
import ChoiceField from '@/forms/ChoiceField.vue'
import { useBench } from '@/live/useBench'
import { type BenchDraft, HAND_KIND, hands } from './setup'

defineProps<{ disabled: boolean }>()
const draft = defineModel<BenchDraft>({ required: true })
const bench = useBench()
const stands = computed(() => bench.frame?.stands ?? [])
/** A stand that only reads leaves no choice. */
const onlyReads = computed(() => bench.frame?.link === true && !bench.frame.drives)
watch(
  onlyReads,
  (reads) => {
    if (reads) byHand(true)
  },
  { immediate: true },
)

function byHand(on: boolean) {
  draft.value.by_hand = on
  if (on) draft.value.kind = HAND_KIND
}

const busy = ref(false)
const problem = ref('')
async function drive(stand: string) {
  busy.value = true
  problem.value = ''
  try {
    bench.take(dataOf(await api.POST('/api/v1/bench/stand/', { body: { stand } })))
  } catch (error) {
    problem.value = sentenceOf(error)
  } finally {
    busy.value = false
  }
}
</script>

<template>
  <ChoiceField
    v-if="stands.length > 1"
    id="driven"
    label="Linked to"
    :model-value="bench.frame?.stand ?? null"
    :choices="stands.map((words) => ({ key: words, label: words }))"
    :disabled="disabled || busy"
    :problem="problem"
    @update:model-value="(words) => words && drive(String(words))"
  />
  <div class="whose">
    <span id="whose-throttle">Throttle</span>
    <el-radio-group
      :model-value="draft.by_hand"
      size="small"
      aria-labelledby="whose-throttle"
      :disabled="disabled || onlyReads"
      @update:model-value="(on: unknown) => byHand(on === true)"
    >
      <el-radio-button :value="false">this program</el-radio-button>
      <el-radio-button :value="true">somebody’s hand</el-radio-button>
    </el-radio-group>
  </div>
  <template v-if="draft.by_hand">
    <ChoiceField id="hand" v-model="draft.hand" label="Moved with" :choices="hands()" />
    <p class="cannot">
      {{ onlyReads ? 'This stand only reads.' : '' }} By hand this program <b>cannot cut</b>: it
      asks for positions, records, and warns by colour and sound. You cut.
    </p>
  </template>
</template>

<style scoped>
.whose {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 10px;
  align-items: center;
  justify-content: space-between;
  margin-top: 9px;
}
.whose :deep(.el-radio-button) {
  --el-radio-button-checked-text-color: var(--dark);
}
.cannot {
  margin: 6px 0 0;
  padding: 4px 10px;
  border-left: 4px solid var(--dark-caution-line);
  font-size: 13px;
}
</style>
