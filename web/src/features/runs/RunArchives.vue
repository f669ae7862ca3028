<script setup lang="ts">
/** Archives of runs that are made: taken home, or let go before their time. */
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { api, type Schemas, sentenceOf } from '@/api/client'
import { exportsQuery } from '@/api/queries'
import { useWrite } from '@/api/useWrite'
import { useSession } from '@/app/useSession'
import { dateTime, formatNumber } from '@/figures/format'

const { mayWrite } = useSession()
const { data } = useQuery(exportsQuery())
const dropping = useWrite('archive', (one: Schemas['RunExport']) =>
  api.DELETE('/api/v1/exports/{id}/', { params: { path: { id: one.id } } }),
)
const made = computed(() => (data.value?.results ?? []).filter((one) => one.size_bytes != null))
const megabytes = (bytes: number) => formatNumber(bytes / 1e6, bytes < 1e6 ? 2 : 1)
</script>

<template>
  <p v-if="made.length" class="archives">
    <span v-for="one in made" :key="one.id" class="made">
      <a :href="`/api/v1/exports/${one.id}/runs.zip`" download
        >{{ one.title }}, {{ megabytes(one.size_bytes ?? 0) }} MB</a
      >
      <span class="soft small">{{ dateTime(one.asked_at) }}</span>
      <el-button
        v-if="mayWrite"
        link
        size="small"
        :loading="dropping.busy.value"
        @click="dropping.send(one)"
        >Drop<span class="visually-hidden"> {{ one.title }}</span></el-button
      >
    </span>
    <span v-if="dropping.problem.value" class="problem" role="alert">{{
      sentenceOf(dropping.problem.value)
    }}</span>
  </p>
</template>

<style scoped>
.archives {
  display: flex;
  flex-wrap: wrap;
  gap: 6px 16px;
  align-items: center;
  margin: 0 0 10px;
}
.made {
  display: inline-flex;
  gap: 8px;
  align-items: baseline;
}
.problem {
  color: var(--stop);
}
</style>
