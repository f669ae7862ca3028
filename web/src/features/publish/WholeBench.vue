<script setup lang="ts">
/** Everything on record in open formats, for whoever leaves. Only an administrator takes it. */
import { ref } from 'vue'
import { api, sentenceOf } from '@/api/client'
import { useWrite } from '@/api/useWrite'

const said = ref('')
const writing = useWrite('work', () => api.POST('/api/v1/whole-bench/'))
async function write() {
  said.value = ''
  if (await writing.send())
    said.value = 'It is being written; the strip says how far it is. Then it can be taken here.'
}
</script>

<template>
  <section class="sheet" aria-labelledby="whole-bench">
    <h2 id="whole-bench">The whole bench</h2>
    <p class="soft">
      Every table as CSV, every log, picture and imported file, in one archive that no program of
      ours is needed for. Names of readers are in it; passwords are not.
    </p>
    <div class="row">
      <el-button :loading="writing.busy.value" @click="write">Write it</el-button>
      <a href="/api/v1/whole-bench/" download>Take the last one</a>
      <span v-if="said" role="status" class="small">{{ said }}</span>
      <span v-if="writing.problem.value" role="alert" class="fault">{{
        sentenceOf(writing.problem.value)
      }}</span>
    </div>
  </section>
</template>

<style scoped>
.sheet {
  margin-top: 16px;
}
.row {
  display: flex;
  flex-wrap: wrap;
  gap: 14px;
  align-items: center;
}
.fault {
  color: var(--stop);
}
</style>
