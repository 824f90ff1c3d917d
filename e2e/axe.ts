import { readFileSync } from 'node:fs'
import { createRequire } from 'node:module'
import type { Page } from '@playwright/test'

const axe = readFileSync(createRequire(import.meta.url).resolve('axe-core/axe.min.js'), 'utf8')

/** What axe finds on the page as it stands: the rule, and the first places that break it. */
export async function axeFindings(page: Page, rules: string[] | null): Promise<string[]> {
  // through the debugger: the page's own policy lets no foreign script in
  await page.evaluate(axe)
  return page.evaluate(async (only) => {
    const { axe } = window as unknown as {
      axe: {
        run: (o: object) => Promise<{ violations: { id: string; nodes: { target: string[]; failureSummary: string }[] }[] }>
      }
    }
    const { violations } = await axe.run({
      runOnly: only ? { type: 'rule', values: only } : ['wcag2a', 'wcag2aa'],
      // what passes is not described
      resultTypes: ['violations'],
    })
    return violations.map(
      (v) =>
        `${v.id}: ${v.nodes
          .slice(0, 3)
          .map((n) => `${n.target.join(' ')} ${n.failureSummary.split('\n').at(-1)}`)
          .join(' | ')}`,
    )
  }, rules)
}
