<script setup lang="ts">
/** Several files at once: what becomes of each. */
import { sentenceOf } from '@/api/client'
import type { ImportedFile } from './useFiles'
import { standing } from './useFiles'

defineProps<{ files: readonly ImportedFile[] }>()
const chosen = defineModel<number>({ required: true })
</script>

<template>
  <section class="sheet" aria-label="Files">
    <table class="grid">
      <thead>
        <tr>
          <th>File</th>
          <th class="num">Runs</th>
          <th>Where it stands</th>
          <th></th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="(one, at) in files" :key="at" :class="{ chosen: at === chosen }">
          <td>{{ one.file.name }}</td>
          <td class="num">{{ one.opened?.runs.length ?? '—' }}</td>
          <td>
            <template v-if="one.stored.length">
              stored as
              <template v-for="(run, place) in one.stored.slice(0, 4)" :key="run">
                {{ place ? ', ' : '' }}<RouterLink :to="`/runs/${run}`">run {{ run }}</RouterLink>
              </template>
              <template v-if="one.stored.length > 4">
                and {{ one.stored.length - 4 }} more</template
              >
            </template>
            <span v-else-if="one.problem" class="problem">{{ sentenceOf(one.problem) }}</span>
            <template v-else>{{ standing(one) }}</template>
          </td>
          <td>
            <el-button
              v-if="one.opened && !one.stored.length"
              link
              size="small"
              :disabled="at === chosen"
              @click="chosen = at"
              >Look at it<span class="visually-hidden"> {{ one.file.name }}</span></el-button
            >
          </td>
        </tr>
      </tbody>
    </table>
  </section>
</template>

<style scoped>
.sheet {
  margin-top: 12px;
}
.chosen td {
  background: var(--paper-tint);
}
.problem {
  color: var(--stop);
}
</style>
