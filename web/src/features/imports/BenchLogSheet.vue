<script setup lang="ts">
/** A bench log, which says by itself what it holds: see what was understood, then confirm. */
import { useQuery } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'
import { type Schemas, sendForm } from '@/api/client'
import { useWrite } from '@/api/useWrite'
import ChoiceField from '@/forms/ChoiceField.vue'
import PropellerField from '@/forms/PropellerField.vue'
import SampleField from '@/forms/SampleField.vue'
import { runKind } from '@/words/words'
import ImportFault from './ImportFault.vue'
import UnderstoodSheet from './UnderstoodSheet.vue'
import { useSupplyAndStand } from './useSupplyAndStand'

const props = defineProps<{ file: File; inbox: number | null; opened: Schemas['Opened'] }>()
const emit = defineEmits<{ stored: [runs: { id: number }[]] }>()
const { supplies, stands } = useSupplyAndStand()
const formOf = (sent: Record<string, string> = {}) => {
  const form = new FormData()
  form.append('file', props.file)
  for (const [name, value] of Object.entries(sent)) form.append(name, value)
  return form
}
const { data: understood, error } = useQuery({
  queryKey: ['imports-preview', props.file.name, props.file.size, props.file.lastModified],
  queryFn: () => sendForm<Schemas['Understood']>('/api/v1/imports/preview/', formOf()),
  retry: false,
})
const sample = ref<number | null>(null)
const propeller = ref<number | null>(null)
const supply = ref(0)
const stand = ref(0)
watch(
  () => props.opened,
  ({ runs: [run] }) => {
    sample.value = run?.sample ?? null
    propeller.value = run?.propeller ?? null
    supply.value = run?.supply ?? 0
  },
  { immediate: true },
)
/** Kinds of run that turn no propeller. */
const bare = computed(() => runKind(understood.value?.kind ?? '')?.needs_propeller === false)
const ready = computed(() => sample.value !== null && (propeller.value !== null || bare.value))
const storing = useWrite('run', (form: FormData) =>
  sendForm<Schemas['RunDetail']>('/api/v1/imports/', form),
)
const problem = computed(() => error.value ?? storing.problem.value)
async function confirm() {
  if (!sample.value || !ready.value) return
  const run = await storing.send(
    formOf({
      sample: String(sample.value),
      ...(propeller.value && !bare.value ? { propeller: String(propeller.value) } : {}),
      ...(supply.value ? { supply: String(supply.value) } : {}),
      ...(stand.value ? { stand: String(stand.value) } : {}),
    }),
  )
  if (run) emit('stored', [run])
}
</script>

<template>
  <ImportFault v-if="problem" :file-name="file.name" :problem="problem" />
  <template v-if="understood">
    <UnderstoodSheet :understood="understood" />
    <el-form class="sheet" @submit.prevent="confirm">
      <h2>It belongs to</h2>
      <div class="belongs">
        <SampleField id="belongs-sample" v-model="sample" label="Motor and sample" />
        <PropellerField v-if="!bare" id="belongs-propeller" v-model="propeller" label="Propeller" />
        <ChoiceField id="belongs-supply" v-model="supply" label="Supply" :choices="supplies" />
        <ChoiceField id="belongs-stand" v-model="stand" label="Stand" :choices="stands" />
      </div>
      <el-button
        type="primary"
        native-type="submit"
        :disabled="!ready"
        :loading="storing.busy.value"
        >Store it as a run</el-button
      >
    </el-form>
  </template>
</template>

<style scoped>
.sheet {
  margin-top: 12px;
}
.belongs {
  display: flex;
  gap: 14px;
  margin: 8px 0 14px;
}
</style>
