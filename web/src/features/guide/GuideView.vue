<script setup lang="ts">
/** The guide: its contents on the left, a page of it on the right. */
import { computed, nextTick, useTemplateRef, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { htmlOf } from '@/lib/markdown'
import { PAGES, PICTURES } from '@/lib/guide-pages'

const route = useRoute()
const router = useRouter()
const article = useTemplateRef<HTMLElement>('article')

const open = computed(() => PAGES.find(({ name }) => name === route.params.page) ?? PAGES[0])
const html = computed(() => htmlOf(open.value, PICTURES))
const next = computed(() => PAGES[PAGES.indexOf(open.value) + 1])

/** Links in the text lead through the router, so that the app is not loaded anew. */
function follow(event: MouseEvent): void {
  const link = (event.target as Element).closest('a')
  const address = link?.getAttribute('href')
  if (!address?.startsWith('/guide') || event.ctrlKey || event.metaKey || event.shiftKey) return
  event.preventDefault()
  void router.push(address)
}

/** Bring the passage into view and give it the focus, for those who read by ear. */
async function show(): Promise<void> {
  await nextTick()
  const heading = route.hash
    ? document.getElementById(decodeURIComponent(route.hash.slice(1)))
    : article.value?.querySelector('h1')
  heading?.setAttribute('tabindex', '-1')
  heading?.focus({ preventScroll: true })
  heading?.scrollIntoView({ block: 'start' })
}
watch(() => route.fullPath, show, { immediate: true })
watch(open, ({ title }) => (document.title = `${title} · Yarrowdew`), { immediate: true })
</script>

<template>
  <div class="guide">
    <header class="guide__bar">
      <router-link :to="{ name: 'studies' }" class="guide__home">Yarrowdew</router-link>
      <span class="quiet">Guide</span>
    </header>
    <nav class="guide__contents" aria-label="Contents of the guide">
      <ol class="plain-list">
        <li v-for="page in PAGES" :key="page.name">
          <router-link
            :to="`/guide/${page.name}`"
            :aria-current="page === open ? 'page' : undefined"
          >
            {{ page.title }}
          </router-link>
        </li>
      </ol>
    </nav>
    <main class="guide__page">
      <!-- eslint-disable-next-line vue/no-v-html -- Our own pages, made without HTML of theirs. -->
      <article ref="article" class="guide__text" @click="follow" v-html="html" />
      <p v-if="next" class="guide__next">
        Next: <router-link :to="`/guide/${next.name}`">{{ next.title }}</router-link>
      </p>
    </main>
  </div>
</template>

<style scoped>
.guide {
  display: grid;
  grid-template: 'bar bar' auto 'contents page' 1fr / 264px 1fr;
  height: 100vh;
}

.guide__bar {
  grid-area: bar;
  display: flex;
  align-items: baseline;
  gap: 16px;
  padding: 8px 16px;
  background: var(--raised);
  border-bottom: 1px solid var(--edge);
}

.guide__home {
  font-size: var(--text-head);
  font-weight: 700;
  color: var(--accent);
  text-decoration: none;
}

.guide__contents {
  grid-area: contents;
  overflow: auto;
  padding: 16px;
}

.guide__contents a {
  display: block;
  padding: 4px 8px;
  border-radius: var(--radius);
  color: var(--ink);
  text-decoration: none;
}

.guide__contents a[aria-current] {
  background: var(--chosen);
  font-weight: 600;
}

.guide__page {
  grid-area: page;
  overflow: auto;
  padding: 16px 32px 64px;
  background: var(--raised);
}

.guide__text,
.guide__next {
  max-width: 72ch;
  line-height: 1.5;
}

.guide__text :deep(a) {
  color: var(--accent);
}

.guide__text :deep(:is(h1, h2, h3)) {
  line-height: 1.3;
  margin: 1.6em 0 0.4em;
  scroll-margin-top: 16px;
}

/* The focus goes to a heading for those who read by ear; others see where they are. */
.guide__text :deep([tabindex='-1']:focus-visible) {
  outline: none;
}

.guide__text :deep(h1) {
  margin-top: 0;
  font-size: 1.75rem;
}

.guide__text :deep(h2) {
  font-size: 1.25rem;
}

.guide__text :deep(:is(p, ul, ol, pre, blockquote, .guide__table)) {
  margin: 0 0 0.8em;
}

.guide__text :deep(:is(ul, ol)) {
  padding-left: 24px;
}

.guide__text :deep(blockquote) {
  padding-left: 16px;
  border-left: 3px solid var(--edge);
}

.guide__text :deep(img) {
  max-width: 100%;
  border: 1px solid var(--edge);
  border-radius: var(--radius);
}

.guide__text :deep(:is(pre, code)) {
  font-family: var(--mono, monospace);
  background: var(--ground);
  border-radius: var(--radius);
}

.guide__text :deep(pre) {
  padding: 12px;
  overflow: auto;
}

.guide__text :deep(code) {
  padding: 0 4px;
}

.guide__text :deep(pre code) {
  padding: 0;
}

.guide__text :deep(.guide__table) {
  overflow: auto;
}

.guide__text :deep(:is(th, td)) {
  padding: 4px 12px 4px 0;
  text-align: left;
  vertical-align: top;
  border-bottom: 1px solid var(--edge);
}

@media (width < 760px) {
  .guide {
    grid-template: 'bar' auto 'contents' auto 'page' 1fr / 1fr;
  }

  .guide__contents {
    max-height: 25vh;
  }

  .guide__page {
    padding: 16px;
  }
}
</style>
