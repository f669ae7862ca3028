<script setup lang="ts">
/** All motors on the bench, found by the server, a page at a time. */
import { useQuery } from '@tanstack/vue-query'
import { refDebounced } from '@vueuse/core'
import { computed, ref, watch } from 'vue'
import type { Schemas } from '@/api/client'
import { motorSearchQuery } from '@/api/queries'
import PageState from '@/app/PageState.vue'
import MotorMark from './MotorMark.vue'

defineSlots<{ motor: (props: { motor: Schemas['Motor'] }) => unknown; empty: () => unknown }>()
const PAGE = 50
const search = ref('')
const page = ref(1)
const sought = refDebounced(search, 250)
watch(sought, () => (page.value = 1))
const { data, isPending, error, refetch } = useQuery(
  computed(() => motorSearchQuery(sought.value, page.value)),
)
</script>

<template>
  <el-input
    v-model="search"
    clearable
    placeholder="Find by maker, name, size or kV"
    aria-label="Find"
  />
  <PageState :loading="isPending" :error="error" :retry="refetch" />
  <p v-if="data && !data.results.length" class="soft">
    <template v-if="sought">No motor fits.</template>
    <slot v-else name="empty">Nothing yet.</slot>
  </p>
  <ul v-else-if="data" class="list">
    <li v-for="motor in data.results" :key="motor.id">
      <MotorMark :motor="motor.id" />
      <slot name="motor" :motor="motor" />
    </li>
  </ul>
  <el-pagination
    v-if="data && data.count > PAGE"
    v-model:current-page="page"
    class="pages"
    :page-size="PAGE"
    :total="data.count"
    layout="prev, pager, next"
  />
</template>

<style scoped>
.pages {
  justify-content: center;
  margin: 10px 0 0;
}
.list {
  list-style: none;
  margin: 8px 0 0;
  padding: 0;
}
.list li {
  padding: 5px 0;
  border-bottom: 1px solid var(--line-soft);
}
</style>
