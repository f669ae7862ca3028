<script setup lang="ts">
/** A table as a 16:9 still for footage, whole or row by row. */
import { ref } from 'vue'
import { download } from './save'
import { type StillTable, tableStill } from './stills'

const props = defineProps<{ name: string; table: () => StillTable }>()
const asking = ref(false)
const rowByRow = ref(false)
const busy = ref(false)
const problem = ref('')
async function save() {
  problem.value = ''
  busy.value = true
  try {
    const table = props.table()
    const steps = rowByRow.value ? table.rows.map((_, k) => k) : [table.rows.length]
    const last = table.rows.length
    for (const shown of rowByRow.value ? [...steps, last] : steps) {
      const still = await tableStill(table, shown)
      const part = rowByRow.value ? `-${String(shown).padStart(2, '0')}` : ''
      download(still, `${props.name}-16x9${part}.png`)
    }
    asking.value = false
  } catch (failure) {
    problem.value = failure instanceof Error ? failure.message : 'No still was made.'
  } finally {
    busy.value = false
  }
}
</script>

<template>
  <el-popover v-model:visible="asking" trigger="click" :width="250">
    <template #reference>
      <el-button size="small" text aria-label="16:9 still of the table">16:9</el-button>
    </template>
    <p class="words">A picture of 1920 × 1080 for footage and pages.</p>
    <el-checkbox v-model="rowByRow">one row after another: a picture more for each</el-checkbox>
    <el-button size="small" type="primary" :loading="busy" @click="save">Save PNG</el-button>
    <p v-if="problem" role="alert" class="words">{{ problem }}</p>
  </el-popover>
</template>

<style scoped>
.words {
  margin: 0 0 4px;
}
</style>
