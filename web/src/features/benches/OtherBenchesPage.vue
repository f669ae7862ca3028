<script setup lang="ts">
/** What other benches measured, quoted with their grade; and two benches held against each other
 * over the motors that both ran. */
import { useQuery } from '@tanstack/vue-query'
import type { UploadFile } from 'element-plus'
import { computed, ref } from 'vue'
import { otherBenchesQuery, otherBenchQuery } from '@/api/otherBenchQueries'
import { type Schemas, sendForm, sentenceOf } from '@/api/client'
import PageState from '@/app/PageState.vue'
import { useRouteQuery } from '@/app/useRouteQuery'
import { useSession } from '@/app/useSession'
import CompareHead from '@/features/compare/CompareHead.vue'
import HeldTable from './HeldTable.vue'
import OffsetChart from './OffsetChart.vue'
import PackLook from './PackLook.vue'
import PackRow from './PackRow.vue'

const { mayWrite } = useSession()
const benches = useQuery(otherBenchesQuery())
const named = useRouteQuery('bench', '')
const chosen = computed(() => {
  const rows = benches.data.value ?? []
  return (rows.find((one) => String(one.id) === named.value) ?? rows[0])?.id ?? null
})
const bench = useQuery(computed(() => otherBenchQuery(chosen.value)))
const shown = computed(() => bench.data.value)

const opened = ref<{ file: File; looked: Schemas['Looked'] } | null>(null)
const reading = ref(false)
const problem = ref<unknown>(null)
const said = ref('')
async function open(file: File) {
  opened.value = null
  problem.value = null
  said.value = ''
  reading.value = true
  const form = new FormData()
  form.append('file', file)
  try {
    const looked = await sendForm<Schemas['Looked']>('/api/v1/quoted-packs/look/', form)
    opened.value = { file, looked }
  } catch (error) {
    problem.value = error
  } finally {
    reading.value = false
  }
}
function quoted(pack: Schemas['QuotedPack']) {
  opened.value = null
  named.value = String(pack.bench)
  said.value = `Quoted: ${pack.subject}, ${pack.run_count} runs.`
}
const only = computed(() => {
  const found = new Map<string, string[]>()
  for (const one of shown.value?.check.theirs_only ?? [])
    found.set(one.motor_name, [...(found.get(one.motor_name) ?? []), one.load])
  return [...found]
})
</script>

<template>
  <CompareHead here="/compare/benches" :reading="bench.isFetching.value" />
  <el-upload
    v-if="mayWrite"
    class="drop"
    drag
    accept=".zip,application/zip"
    :auto-upload="false"
    :show-file-list="false"
    :on-change="(file: UploadFile) => file.raw && open(file.raw)"
  >
    <strong>Choose another bench's data pack, or drop it here</strong>
    <span class="small soft"
      >Its checksums are checked and its runs reduced here. You see whose it is before anything is
      kept.</span
    >
  </el-upload>
  <p v-if="reading" class="soft" role="status">Checking the pack…</p>
  <p v-if="problem" class="fault" role="alert">{{ sentenceOf(problem) }}</p>
  <p v-if="said" role="status">{{ said }}</p>
  <PackLook
    v-if="opened"
    :key="opened.file.name + opened.file.lastModified"
    :file="opened.file"
    :looked="opened.looked"
    @quoted="quoted"
    @drop="opened = null"
  />
  <PageState
    :loading="benches.isPending.value"
    :error="benches.error.value"
    :retry="benches.refetch"
  />
  <section v-if="benches.data.value && !benches.data.value.length" class="sheet">
    <h2>No other bench yet</h2>
    <p>
      Every page that a bench publishes offers its data as one file. Quote one of a motor that you
      ran too: both benches then see by how much they read apart.
    </p>
  </section>
  <template v-if="benches.data.value?.length">
    <el-segmented
      v-if="benches.data.value.length > 1"
      class="which"
      :model-value="chosen ?? undefined"
      :options="benches.data.value.map((one) => ({ value: one.id, label: one.name }))"
      aria-label="Which bench"
      @update:model-value="named = String($event)"
    />
    <PageState :loading="bench.isPending.value" :error="bench.error.value" :retry="bench.refetch" />
    <template v-if="shown">
      <section class="sheet" aria-labelledby="apart">
        <h2 id="apart">{{ shown.bench.name }} held against this bench</h2>
        <OffsetChart v-if="shown.check.offsets.length" :offsets="shown.check.offsets" />
        <p v-else>
          No load that both ran. Run one of theirs and the two can be held against each other.
        </p>
        <details v-if="only.length" class="small">
          <summary>Loads that only they ran ({{ shown.check.theirs_only.length }})</summary>
          <ul>
            <li v-for="[motor, loads] in only" :key="motor">{{ motor }}: {{ loads.join('; ') }}</li>
          </ul>
        </details>
      </section>
      <section v-if="shown.check.held.length" class="sheet" aria-labelledby="held">
        <h2 id="held">Load by load</h2>
        <HeldTable :held="shown.check.held" />
      </section>
      <section class="sheet" aria-labelledby="packs">
        <h2 id="packs">What is quoted of them</h2>
        <p v-if="shown.bench.address" class="soft small">{{ shown.bench.address }}</p>
        <ul class="packs">
          <PackRow v-for="pack in shown.packs" :key="pack.id" :pack="pack" />
        </ul>
      </section>
    </template>
  </template>
</template>

<style scoped>
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
.sheet,
.which {
  margin-top: 12px;
}
.packs {
  margin: 4px 0 0;
  padding: 0;
  list-style: none;
}
.fault {
  color: var(--stop);
}
</style>
