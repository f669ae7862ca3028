<script setup lang="ts">
/** A log that somebody else recorded: see what was understood, then confirm. */
import { useMutation, useQuery } from '@tanstack/vue-query'
import { computed, ref, shallowRef } from 'vue'
import { useRouter } from 'vue-router'
import type { UploadFile } from 'element-plus'
import { type Schemas, sendForm } from '@/api/client'
import { standsQuery, suppliesQuery } from '@/api/queries'
import { useWrite } from '@/api/useWrite'
import { useSession } from '@/app/useSession'
import ChoiceField from '@/forms/ChoiceField.vue'
import PropellerField from '@/forms/PropellerField.vue'
import SampleField from '@/forms/SampleField.vue'
import { runKind } from '@/words/words'
import ImportFault from './ImportFault.vue'
import UnderstoodSheet from './UnderstoodSheet.vue'

const { data: supplies } = useQuery(suppliesQuery())
const { data: stands } = useQuery(standsQuery())
const { mayWrite } = useSession()
const router = useRouter()

const file = shallowRef<File | null>(null)
const understood = ref<Schemas['Understood'] | null>(null)
const sample = ref<number | null>(null)
const propeller = ref<number | null>(null)
const supply = ref(0)
const stand = ref(0)
const orNone = (rows: readonly { id: number; name: string }[] | undefined) => [
  { key: 0, label: 'not noted' },
  ...(rows ?? []).map((row) => ({ key: row.id, label: row.name })),
]
const looking = useMutation({
  mutationFn: (form: FormData) => sendForm<Schemas['Understood']>('/api/v1/imports/preview/', form),
  retry: false,
})
const storing = useWrite('run', (form: FormData) =>
  sendForm<Schemas['RunDetail']>('/api/v1/imports/', form),
)
const problem = computed(() => looking.error.value ?? storing.problem.value)
const busy = computed(() => looking.isPending.value || storing.busy.value)

async function look(chosen: File | undefined | null) {
  if (!chosen) return
  file.value = chosen
  understood.value = null
  storing.clear()
  const form = new FormData()
  form.append('file', chosen)
  const seen = await looking.mutateAsync(form).catch(() => null)
  if (!seen || file.value !== chosen) return
  understood.value = seen
  sample.value = seen.sample
  propeller.value = seen.propeller
}

/** Kinds of run that turn no propeller. */
const bare = computed(() => runKind(understood.value?.kind ?? '')?.needs_propeller === false)
const ready = computed(() => sample.value !== null && (propeller.value !== null || bare.value))

async function confirm() {
  if (!file.value || !sample.value || !ready.value) return
  const form = new FormData()
  form.append('file', file.value)
  form.append('sample', String(sample.value))
  if (propeller.value && !bare.value) form.append('propeller', String(propeller.value))
  if (supply.value) form.append('supply', String(supply.value))
  if (stand.value) form.append('stand', String(stand.value))
  const run = await storing.send(form)
  if (run) await router.push(`/runs/${run.id}`)
}
</script>

<template>
  <h1>Import a bench log</h1>
  <p v-if="!mayWrite" class="soft">Your role reads the record; a reviewer imports.</p>
  <template v-else>
    <el-upload
      class="drop"
      drag
      accept=".csv,.json,.parquet,.xlsx,text/csv"
      :auto-upload="false"
      :show-file-list="false"
      :on-change="(chosen: UploadFile) => look(chosen.raw)"
    >
      <strong>{{ file?.name ?? 'Choose a log, or drop it here' }}</strong>
      <span class="small soft"
        >A CSV with a header row that names time_s, and the channels with their units (throttle_pct,
        thrust_gf, voltage_v, current_a, speed_rpm …), or the same log as JSON, Parquet or XLSX.
        Nothing is stored before you confirm.</span
      >
    </el-upload>
    <p v-if="busy" class="soft" role="status">Reading…</p>
    <ImportFault v-if="problem" :file-name="file?.name ?? 'The file'" :problem="problem" />
    <template v-if="understood">
      <UnderstoodSheet :understood="understood" />
      <el-form class="sheet" @submit.prevent="confirm">
        <h2>It belongs to</h2>
        <div class="belongs">
          <SampleField id="belongs-sample" v-model="sample" label="Motor and sample" />
          <PropellerField
            v-if="!bare"
            id="belongs-propeller"
            v-model="propeller"
            label="Propeller"
          />
          <ChoiceField
            id="belongs-supply"
            v-model="supply"
            label="Supply"
            :choices="orNone(supplies)"
          />
          <ChoiceField id="belongs-stand" v-model="stand" label="Stand" :choices="orNone(stands)" />
        </div>
        <el-button type="primary" native-type="submit" :disabled="!ready" :loading="busy"
          >Store it as a run</el-button
        >
      </el-form>
    </template>
  </template>
</template>

<style scoped>
.sheet {
  margin-top: 12px;
}
.drop {
  margin-top: 12px;
}
.drop :deep(.el-upload-dragger) {
  display: flex;
  gap: 16px;
  align-items: center;
  padding: 14px 16px;
  text-align: left;
}
.drop strong {
  white-space: nowrap;
}
.belongs {
  display: flex;
  gap: 14px;
  margin: 8px 0 14px;
}
</style>
