<script setup lang="ts">
/** Every run; choose some to compare, or bring in somebody else's log. */
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { useRouter } from 'vue-router'
import { runsQuery } from '@/api/queries'
import PageState from '@/app/PageState.vue'
import { useSession } from '@/app/useSession'
import RunTable from './RunTable.vue'

const { data: runs, isPending, error, refetch } = useQuery(runsQuery())
const { mayWrite } = useSession()
const router = useRouter()
const chosen = ref<number[]>([])
const word = ref('')

const shown = computed(() => {
  const words = word.value.toLowerCase().split(/\s+/).filter(Boolean)
  return (runs.value ?? []).filter((run) => {
    const text = `${run.motor_name} ${run.sample_mark} ${run.propeller_name} ${run.supply_name} ${run.outcome}`
    return words.every((part) => text.toLowerCase().includes(part))
  })
})
</script>

<template>
  <header class="head">
    <h1>Runs</h1>
    <el-input
      v-model="word"
      class="find"
      clearable
      placeholder="Find motor, prop, supply"
      aria-label="Find runs"
    />
    <el-button
      type="primary"
      :disabled="!chosen.length"
      @click="router.push(`/compare?runs=${chosen.join(',')}`)"
      >Compare {{ chosen.length || '' }}</el-button
    >
    <el-button v-if="mayWrite" @click="router.push('/import')">Import a log</el-button>
  </header>
  <PageState :loading="isPending" :error="error" :retry="refetch" />
  <section v-if="runs" class="sheet">
    <p v-if="!runs.length" class="soft">
      No run yet. <RouterLink to="/bench">Make one on the bench</RouterLink>.
    </p>
    <p v-else-if="!shown.length" class="soft">No run fits “{{ word }}”.</p>
    <RunTable v-else v-model:chosen="chosen" :runs="shown" choosing />
  </section>
</template>

<style scoped>
.head {
  display: flex;
  gap: 12px;
  align-items: center;
  margin-bottom: 14px;
}
.find {
  width: 280px;
  margin-left: auto;
}
</style>
