<script setup lang="ts">
/** Which craft is matched, what may be done with it, and the match as files. */
import type { Schemas } from '@/api/client'

export type Editing = '' | 'new' | 'change' | 'copy'
type Craft = Schemas['Craft']
defineProps<{ all: Craft[]; craft: Craft | null; found: boolean; mayWrite: boolean }>()
const editing = defineModel<Editing>('editing', { required: true })
const emit = defineEmits<{ choose: [id: number] }>()
const at = (craft: Craft) => `/api/v1/craft/${craft.id}/match`
</script>

<template>
  <header class="head">
    <h1>Match</h1>
    <el-select
      v-if="all.length"
      :model-value="craft?.id"
      aria-label="Craft"
      filterable
      default-first-option
      class="which"
      @update:model-value="(id: number) => emit('choose', id)"
    >
      <el-option
        v-for="one in all"
        :key="one.id"
        :value="one.id"
        :label="one.retired ? `${one.name} (retired)` : one.name"
      />
    </el-select>
    <RouterLink v-if="craft" :to="`/afterwards?craft=${craft.id}`">Its flights</RouterLink>
    <template v-if="mayWrite && !editing">
      <el-button v-if="craft" size="small" @click="editing = 'change'">Change it</el-button>
      <el-button v-if="craft" size="small" @click="editing = 'copy'"
        >Copy, with something changed</el-button
      >
      <el-button size="small" :type="craft ? undefined : 'primary'" @click="editing = 'new'"
        >New craft</el-button
      >
    </template>
    <nav v-if="craft && found" aria-label="As files">
      <a :href="`${at(craft)}.csv`" download>CSV</a>
      <a :href="`${at(craft)}.xlsx`" download>XLSX</a>
      <a :href="`${at(craft)}.pdf`" download>one page (PDF)</a>
    </nav>
  </header>
</template>

<style scoped>
.head {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 8px 12px;
}
.head nav {
  margin-left: auto;
  display: flex;
  gap: 12px;
}
.which {
  width: 260px;
}
</style>
