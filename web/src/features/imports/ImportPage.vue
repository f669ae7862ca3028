<script setup lang="ts">
/** Logs and tables that somebody else recorded: see what was understood, then confirm. */
import type { UploadFile } from 'element-plus'
import { useRouter } from 'vue-router'
import { useSession } from '@/app/useSession'
import type { Schemas } from '@/api/client'
import BenchLogSheet from './BenchLogSheet.vue'
import FileTable from './FileTable.vue'
import ForeignSheet from './ForeignSheet.vue'
import ImportFault from './ImportFault.vue'
import InboxList from './InboxList.vue'
import LargeList from './LargeList.vue'
import LargeLogSheet from './LargeLogSheet.vue'
import { useFiles } from './useFiles'

const { mayWrite } = useSession()
const sheetOf = ({ bench_log, large }: Schemas['Opened']) => {
  if (!bench_log) return ForeignSheet
  return large ? LargeLogSheet : BenchLogSheet
}
const router = useRouter()
const { files, chosen, current, add, stored } = useFiles()

async function done(runs: readonly { id: number }[]) {
  const file = current.value?.file
  if (!file) return
  stored(file, runs)
  const [first] = runs
  if (files.value.length === 1 && runs.length === 1 && first) await router.push(`/runs/${first.id}`)
}
</script>

<template>
  <h1>Import</h1>
  <p v-if="!mayWrite" class="soft">Your role reads the record; a reviewer imports.</p>
  <template v-else>
    <el-upload
      class="drop"
      drag
      multiple
      accept=".csv,.txt,.tsv,.log,.json,.parquet,.xlsx,text/csv"
      :auto-upload="false"
      :show-file-list="false"
      :on-change="(file: UploadFile) => file.raw && add(file.raw)"
    >
      <strong>Choose files, or drop them here</strong>
      <span class="small soft"
        >Any logger's CSV, XLSX, JSON or Parquet, also your own table of points with columns for
        motor and propeller. You see what each column was taken for; nothing is stored before you
        confirm.</span
      >
    </el-upload>
    <InboxList @open="add" />
    <LargeList />
    <FileTable v-if="files.length > 1" v-model="chosen" :files="files" />
    <template v-if="current">
      <p v-if="!current.opened && !current.problem" class="soft" role="status">Reading…</p>
      <ImportFault
        v-if="current.problem"
        :file-name="current.file.name"
        :problem="current.problem"
      />
      <p v-else-if="current.opened?.stored_as && !current.stored.length" class="sheet known">
        This file was imported already:
        <RouterLink :to="`/runs/${current.opened.stored_as}`"
          >run {{ current.opened.stored_as }}</RouterLink
        >.
      </p>
      <template v-else-if="current.opened && !current.stored.length">
        <component
          :is="sheetOf(current.opened)"
          :key="current.file.name + chosen"
          :file="current.file"
          :inbox="current.inbox"
          :opened="current.opened"
          @stored="done"
        />
      </template>
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
.known {
  margin-top: 12px;
}
</style>
