<script setup lang="ts">
/** On the Board, for who administers: how many things of the house need doing. */
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { upkeepQuery } from '@/api/upkeepQueries'

const { data } = useQuery(upkeepQuery())
const count = computed(() => data.value?.findings.filter((one) => one.level === 'act').length ?? 0)
</script>

<template>
  <RouterLink v-if="count" class="tag" to="/upkeep">upkeep: {{ count }} to do</RouterLink>
</template>
