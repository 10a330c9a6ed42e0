<script setup lang="ts">
import { useMutation } from '@tanstack/vue-query'
import { ref } from 'vue'
import { useI18n } from 'vue-i18n'
import { useRoute, useRouter } from 'vue-router'

import { api, inItsUnits, queryClient, sessionQuery } from '@/api/queries'
import ProblemNote from '@/parts/ProblemNote.vue'

import TopBand from './TopBand.vue'

const { t } = useI18n()
const route = useRoute()
const router = useRouter()
const email = ref('')
const password = ref('')

const {
  mutate: signIn,
  isPending: busy,
  error: problem,
} = useMutation({
  mutationFn: async () => {
    queryClient.setQueryData(sessionQuery.queryKey, inItsUnits(await api.signIn(email.value, password.value)))
    const then = String(route.query.then ?? '/')
    await router.push(then.startsWith('/') && !then.startsWith('//') ? then : '/')
  },
})
</script>

<template>
  <TopBand />
  <main class="page">
    <h1>{{ t('signIn.title') }}</h1>
    <p class="quiet">{{ t('signIn.lead') }}</p>
    <form @submit.prevent="signIn()">
      <v-text-field
        v-model="email"
        :label="t('signIn.email')"
        type="email"
        autocomplete="username"
        required
      />
      <v-text-field
        v-model="password"
        :label="t('signIn.password')"
        type="password"
        autocomplete="current-password"
        required
      />
      <ProblemNote v-if="problem" :problem="problem" />
      <v-btn type="submit" color="accent" :loading="busy" block>{{ t('signIn.act') }}</v-btn>
    </form>
  </main>
</template>

<style scoped>
.page {
  width: min(400px, 100%);
  padding: 48px 20px;
  margin: 0 auto;
}
form {
  display: flex;
  flex-direction: column;
  gap: 16px;
  margin-top: 20px;
}
</style>
