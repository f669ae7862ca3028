<script setup lang="ts">
/** What somebody wrote, the newest first. */
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { deedsQuery } from '@/api/peopleQueries'
import PageState from '@/app/PageState.vue'
import { dateTime } from '@/figures/format'

const props = defineProps<{ person: number }>()
const { data, isPending, error, refetch } = useQuery(computed(() => deedsQuery(props.person)))
</script>

<template>
  <PageState :loading="isPending" :error="error" :retry="refetch" />
  <p v-if="data && !data.length" class="soft">Nothing yet.</p>
  <ol v-if="data?.length" class="deeds">
    <li v-for="(one, at) in data" :key="at">
      <span class="soft when">{{ dateTime(one.at) }}</span> {{ one.kind }} {{ one.what }}:
      {{ one.which }}
    </li>
  </ol>
</template>

<style scoped>
.deeds {
  max-height: 220px;
  margin: 0;
  padding-left: 0;
  overflow-y: auto;
  list-style: none;
  font-size: 13px;
}
.when {
  display: inline-block;
  min-width: 150px;
}
</style>
