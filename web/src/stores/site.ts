import { defineStore } from "pinia";
import { computed, shallowRef } from "vue";
import client, { ask, type Page, type Site } from "@/api/client";

/** The site that is open, and the visit to it: what was asked for in an earlier visit is nothing to this one. */
export const useSite = defineStore("site", () => {
  const site = shallowRef<Site | null>(null);
  const visit = shallowRef(0);
  const slug = computed(() => site.value?.slug ?? "");
  const pages = computed<Page[]>(() => site.value?.pages ?? []);
  /** What pages are called on a screen, by their paths. */
  const names = computed(() => new Map(pages.value.map((page) => [page.path, page.name])));

  /** Whether something of that name opens on a page. */
  const opensOn = (label: string, page: string) =>
    !!site.value?.opened.some((one) => one.label === label && one.pages.includes(page));

  const fetchSite = (name: string) => ask(client.GET("/api/sites/{slug}", { params: { path: { slug: name } } }));

  /** Leaves the site that is open: another visit begins. */
  function $reset(): void {
    site.value = null;
    visit.value++;
  }

  /** Previews carry the mapping of places to roles: another mapping has other previews. */
  async function refetch(): Promise<void> {
    const mine = visit.value;
    const newer = await fetchSite(slug.value);
    if (mine === visit.value) site.value = newer;
  }

  return { site, visit, slug, pages, names, opensOn, fetchSite, refetch, $reset };
});
