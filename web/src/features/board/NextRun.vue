<script setup lang="ts">
/** The run that the open campaign proposes; B sets it up at the bench. */
import { useQuery } from '@tanstack/vue-query'
import { useEventListener } from '@vueuse/core'
import { computed } from 'vue'
import { useRouter } from 'vue-router'
import { nextRunQuery } from '@/api/benchQueries'

const props = defineProps<{ may: boolean }>()
const router = useRouter()
const { data } = useQuery(nextRunQuery())
const found = computed(() => data.value?.found ?? null)

function load() {
  const next = found.value?.next
  if (!props.may || !found.value || !next) return
  void router.push({
    path: '/bench',
    query: { sample: next.sample, propeller: next.propeller, supply: found.value.supply },
  })
}
useEventListener(window, 'keydown', (event: KeyboardEvent) => {
  const target = event.target as HTMLElement
  if (event.key.toLowerCase() !== 'b' || event.ctrlKey || event.metaKey || event.altKey) return
  if (target.closest('input, textarea, [role=combobox]')) return
  load()
})
</script>

<template>
  <section v-if="found" class="sheet run" aria-label="Next run">
    <div>
      <span class="soft"
        >Next run of
        <RouterLink :to="`/plan?campaign=${found.campaign}`">{{ found.title }}</RouterLink>
        on {{ found.supply_name }}</span
      >
      <p>{{ found.next?.sentence ?? found.nothing_next }}</p>
      <p v-if="found.waits.length" class="soft small">{{ found.waits.join('; ') }}.</p>
    </div>
    <el-button v-if="found.next && may" type="primary" @click="load"
      >Set it up <kbd>B</kbd></el-button
    >
  </section>
</template>

<style scoped>
.run {
  margin-top: 12px;
  display: flex;
  justify-content: space-between;
  align-items: center;
  gap: 16px;
  border-left: 5px solid var(--copper);
  padding: 8px 16px;
}
p {
  margin: 2px 0 0;
}
kbd {
  margin-left: 6px;
  font: inherit;
  opacity: 0.75;
}
</style>
