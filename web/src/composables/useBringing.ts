import { sentence } from "@/api/client";
import { ref } from "vue";
import { useRouter } from "vue-router";
import type { Job } from "@/api/client";

/** Starts a job that brings a site in and goes to where it is watched; what is refused is said here. */
export function useBringing() {
  const router = useRouter();
  const trouble = ref("");
  /** How much of an archive has gone, as a share; null while none is sent. */
  const sending = ref<number | null>(null);

  function say(refusal: unknown): void {
    trouble.value = sentence(refusal);
  }

  async function bring(start: () => Promise<Job>): Promise<void> {
    trouble.value = "";
    try {
      const job = await start();
      await router.push({ name: "coming-in", params: { job: job.number } });
    } catch (refusal) {
      say(refusal);
    } finally {
      sending.value = null;
    }
  }

  return { trouble, sending, say, bring };
}
