import { computed, ref, shallowRef } from "vue";
import client, { ask, type Schemas, sentence } from "@/api/client";
import { useSite } from "@/stores/site";

const AT_ONCE = 6; // pages asked for together

/** Whether the pages have arrived on the owner's own host: asked a few at a time, to be stopped between. */
export function useArrived() {
  const site = useSite();
  const address = ref(site.site?.hosted_at ?? "");
  const against = ref<"downloaded" | "open">("downloaded");
  const found = shallowRef<Schemas["PageFoundOut"][]>([]);
  const isLooking = ref(false);
  const trouble = ref("");
  const all = computed(() => site.pages.length);
  let isStopped = false;

  async function look(): Promise<void> {
    found.value = [];
    trouble.value = "";
    isLooking.value = true;
    isStopped = false;
    const paths = site.pages.map((page) => page.path);
    try {
      for (let start = 0; start < paths.length && !isStopped; start += AT_ONCE) {
        const body = { address: address.value, pages: paths.slice(start, start + AT_ONCE), against: against.value };
        const told = await ask(
          client.POST("/api/sites/{slug}/arrived", { params: { path: { slug: site.slug } }, body }),
        );
        address.value = told.address;
        found.value = [...found.value, ...told.pages];
      }
    } catch (refusal) {
      trouble.value = sentence(refusal);
    } finally {
      isLooking.value = false;
    }
  }

  return { address, against, found, all, isLooking, trouble, look, stop: () => (isStopped = true) };
}
