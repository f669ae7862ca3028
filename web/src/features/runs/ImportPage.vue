<script setup lang="ts">
/** A log that somebody else recorded: see what was understood, then confirm. */
import { useMutation, useQuery } from '@tanstack/vue-query'
import { computed, ref, shallowRef } from 'vue'
import { useRouter } from 'vue-router'
import type { UploadFile } from 'element-plus'
import { ApiError, type Schemas, sendForm, sentenceOf } from '@/api/client'
import { standsQuery, suppliesQuery } from '@/api/queries'
import { useWrite } from '@/api/useWrite'
import { useSession } from '@/app/useSession'
import ChoiceField from '@/forms/ChoiceField.vue'
import PropellerField from '@/forms/PropellerField.vue'
import SampleField from '@/forms/SampleField.vue'
import PointTable from '@/features/runs/PointTable.vue'
import Figure from '@/figures/Figure.vue'
import { runKind } from '@/words/words'

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
const where = computed(() => (problem.value instanceof ApiError ? problem.value.body.where : null))

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
    <section v-if="problem" class="sheet fault" role="alert">
      <h2>{{ file?.name }} was not imported; nothing was stored</h2>
      <p>{{ sentenceOf(problem) }}</p>
      <dl v-if="where">
        <div v-if="where.line !== null">
          <dt>Line</dt>
          <dd>{{ where.line }}</dd>
        </div>
        <div v-if="where.column !== null">
          <dt>Column</dt>
          <dd>{{ where.column }}</dd>
        </div>
        <div v-if="where.expected">
          <dt>Expected</dt>
          <dd>{{ where.expected }}</dd>
        </div>
      </dl>
    </section>

    <template v-if="understood">
      <section class="sheet">
        <h2>Understood of {{ understood.file_name }}</h2>
        <p>
          A <strong>{{ understood.kind }}</strong> run of
          {{ understood.row_count.toLocaleString('en-US') }} rows over
          <Figure :value="understood.duration_s" unit="s" /> at
          <Figure :value="understood.rate_hz" unit="Hz" />;
          {{ understood.result.points.length }} plateaus.
        </p>
        <div class="columns">
          <table class="grid">
            <thead>
              <tr>
                <th>Column</th>
                <th>Read as</th>
                <th class="num">Lowest</th>
                <th class="num">Highest</th>
                <th class="num">Missing cells</th>
              </tr>
            </thead>
            <tbody>
              <tr v-for="column in understood.columns" :key="column.name">
                <td>{{ column.name }}</td>
                <td>
                  {{ column.label }} <span class="soft small">{{ column.unit }}</span>
                </td>
                <td class="num"><Figure :value="column.lowest" :unit="column.unit" /></td>
                <td class="num"><Figure :value="column.highest" :unit="column.unit" /></td>
                <td class="num">{{ column.missing }}</td>
              </tr>
              <tr v-for="name in understood.carried_columns" :key="name">
                <td>{{ name }}</td>
                <td colspan="4" class="soft">carried through, not used</td>
              </tr>
            </tbody>
          </table>
          <table class="grid">
            <thead>
              <tr>
                <th colspan="2">Preamble</th>
              </tr>
            </thead>
            <tbody>
              <tr v-for="line in understood.header" :key="line.key">
                <td>{{ line.key }}</td>
                <td>{{ line.value }}</td>
              </tr>
              <tr v-if="!understood.header.length">
                <td class="soft">none</td>
              </tr>
            </tbody>
          </table>
        </div>
        <p v-for="warning in understood.result.warnings" :key="warning.message" class="remark">
          {{ warning.message }}
        </p>
      </section>
      <section class="sheet">
        <h2>Its points</h2>
        <PointTable :points="understood.result.points" />
      </section>
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
.fault {
  border-left: 5px solid var(--stop);
}
.fault dl {
  display: flex;
  gap: 28px;
  margin: 8px 0 0;
}
dt {
  font-size: 12px;
  color: var(--ink-soft);
}
dd {
  margin: 0;
  font-family: var(--digits);
}
.columns {
  display: grid;
  grid-template-columns: minmax(0, 3fr) minmax(0, 2fr);
  gap: 24px;
  align-items: start;
}
.remark {
  border-left: 4px solid var(--caution);
  padding-left: 10px;
  margin: 8px 0 0;
}
.belongs {
  display: flex;
  gap: 14px;
  margin: 8px 0 14px;
}
</style>
