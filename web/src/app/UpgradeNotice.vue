<script setup lang="ts">
/** A page from before an upgrade says so, and is reloaded when the person is ready, never in a run. */
import { olderThanServer } from '@/api/build'
import { useBench } from '@/live/useBench'

const bench = useBench()
const reload = () => window.location.reload()
</script>

<template>
  <el-alert
    v-if="olderThanServer"
    class="upgrade"
    type="warning"
    show-icon
    :closable="false"
    role="status"
    title="The server is a newer version than this page."
  >
    Drafts are kept in this browser. Finish what you are typing, then reload; until then something
    may be refused.
    <el-button size="small" :disabled="bench.hot" @click="reload">Reload</el-button>
    <span v-if="bench.hot"> After the run.</span>
  </el-alert>
</template>

<style scoped>
.upgrade {
  margin-bottom: 12px;
}
</style>
