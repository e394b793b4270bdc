<script lang="ts">
  import Copy from '@lucide/svelte/icons/copy';
  import X from '@lucide/svelte/icons/x';
  import {
    BUDGET_FIGURE_NAMES,
    BUDGET_FIGURES,
    budgetProblem,
    MOST_BUDGETS,
    type Budget,
    type BudgetFigure,
  } from '#core/document/budgets.ts';
  import { shareOf } from '#core/analyse/shaderCost.ts';
  import { budgetsOf, renameBudget, setBudgets, workTo } from '#core/edits/checkEdits.ts';
  import { toast } from 'svelte-sonner';
  import { commitDeed } from '../parts/doToPart.ts';
  import NumberField from '../../parts/NumberField.svelte';
  import type { Overdraw } from '#stage/stage.ts';
  import type { PinWatch } from '../pins/watchPins.svelte.ts';
  import type { Session } from '../state/session.svelte.ts';
  import type { Checking } from './checking.svelte.ts';

  let { session, checking, pins }: { session: Session; checking: Checking; pins: PinWatch } = $props();

  /** How long the stage has to stand still before it is counted. */
  const STILL_MS = 400;
  let overdraw = $state.raw<Overdraw | null>(null);
  let gpu = $state.raw<ReturnType<PinWatch['gpuTime']>>(null);
  $effect(() => {
    void pins.frames;
    const timer = setTimeout(async () => {
      // Before more is drawn to be counted.
      gpu = pins.gpuTime();
      overdraw = await pins.overdraw();
    }, STILL_MS);
    return () => clearTimeout(timer);
  });

  const cost = $derived(checking.cost);
  const budgets = $derived(budgetsOf(session.shared));

  /** The project's shared part keeps the budgets; it is made where there is none. */
  const keep = async (list: readonly Budget[], merge?: string): Promise<void> => {
    const problem = budgetProblem(list);
    if (problem) return void toast.error(problem.why);
    await session.ensureShared();
    if (session.shared) session.apply(setBudgets(session.shared, list, merge));
    if (merge === undefined) session.settle();
  };
  const change = (at: number, budget: Budget, merge?: string) =>
    keep(
      budgets.map((each, i) => (i === at ? budget : each)),
      merge,
    );
  const work = async (name: string): Promise<void> => {
    await session.ensureShared();
    if (!session.shared) return;
    session.apply(workTo(session.shared, name));
    session.settle();
  };
  const rename = async (at: number, field: HTMLInputElement): Promise<void> => {
    const before = budgets[at]!;
    const name = field.value.trim();
    const problem = budgetProblem(budgets.map((each, i) => (i === at ? { ...each, name } : each)));
    if (problem) toast.error(problem.why);
    else if (name !== before.name) {
      await session.ensureShared();
      const { shared } = session;
      if (shared)
        await commitDeed(
          session,
          `Call the ${before.name} budget ${name}`,
          renameBudget(session.parts, shared, before.name, name),
        );
    }
    field.value = budgets[at]?.name ?? '';
  };
  const copy = (at: number): void => {
    const { name, ...most } = budgets[at]!;
    let free = `${name} 2`;
    for (let n = 3; budgets.some((each) => each.name === free); n += 1) free = `${name} ${n}`;
    void keep([...budgets.slice(0, at + 1), { name: free, ...most }, ...budgets.slice(at + 1)]);
  };
  const share = (budget: Budget, figure: BudgetFigure): number => (cost ? cost[figure] / budget[figure] : 0);
</script>

<h2 class="text-[14px] font-semibold">Cost</h2>
{#if !cost}
  <p class="py-1 text-[12px] text-third">
    {session.openMotif ? 'A motif costs where it is used.' : 'Counted as soon as the shader works.'}
  </p>
{:else}
  <table class="w-full" aria-label="Cost against budgets">
    <thead>
      <tr class="text-left align-bottom">
        <th class="py-1 font-normal text-third" scope="col">as handed over</th>
        <th class="px-1 text-right font-normal text-third" scope="col">here</th>
        {#each budgets as budget, at (at)}
          <th class="pl-3 text-right font-normal" scope="col">
            <label
              class="flex items-center justify-end gap-1"
              title="Work to this budget: the top line shows it"
            >
              <input
                type="radio"
                class="accent-ink"
                name="budget"
                aria-label="Work to {budget.name}"
                checked={budget.name === checking.budget.name}
                onchange={() => void work(budget.name)}
              />
            </label>
            <input
              class="name"
              value={budget.name}
              maxlength="40"
              aria-label="Name of the budget"
              onchange={(event) => void rename(at, event.currentTarget)}
            />
          </th>
        {/each}
      </tr>
    </thead>
    <tbody>
      {#each BUDGET_FIGURE_NAMES as figure (figure)}
        <tr class="border-t border-hairline" title={BUDGET_FIGURES[figure].told}>
          <th class="py-0.5 text-left font-normal" scope="row">{BUDGET_FIGURES[figure].label}</th>
          <td class="mono px-1 text-right" data-testid="cost-{figure}">{cost[figure]}</td>
          {#each budgets as budget, at (at)}
            <td class="text-right" class:over={share(budget, figure) > 1}>
              <NumberField
                plain
                whole
                hard
                min={1}
                max={1e6}
                step={figure === 'operations' ? 10 : 1}
                value={budget[figure]}
                label="{BUDGET_FIGURES[figure].label} of {budget.name}"
                onchange={(most) => void change(at, { ...budget, [figure]: most }, `budget ${at} ${figure}`)}
                onsettle={() => session.settle()}
              />
            </td>
          {/each}
        </tr>
      {/each}
      <tr class="border-t border-rule">
        <th class="py-0.5 text-left font-normal text-third" scope="row">of the budget</th>
        <td></td>
        {#each budgets as budget, at (at)}
          {@const most = shareOf(cost, budget).share}
          <td class="mono text-right" class:over={most > 1}>{Math.round(most * 100)} %</td>
        {/each}
      </tr>
      <tr>
        <td colspan="2"></td>
        {#each budgets as budget, at (at)}
          <td class="text-right whitespace-nowrap text-third">
            <button
              class="px-0.5 hover:text-ink"
              disabled={budgets.length >= MOST_BUDGETS}
              aria-label="Duplicate {budget.name}"
              title="Duplicate"
              onclick={() => copy(at)}><Copy size={12} /></button
            ><button
              class="px-0.5 hover:text-ink"
              disabled={budgets.length < 2}
              aria-label="Delete {budget.name}"
              title="Delete"
              onclick={() => void keep(budgets.filter((_, i) => i !== at))}><X size={13} /></button
            >
          </td>
        {/each}
      </tr>
    </tbody>
  </table>
  <p class="pt-1 text-[12px] text-third">
    Operations are additions of the worst way through a pixel{cost.lighting
      ? `; ${cost.lighting} of them light the surface, with four lights`
      : ''}{cost.vertex ? `. Each corner of the mesh takes ${cost.vertex} more` : ''}.
  </p>
{/if}
{#if overdraw?.most}
  <p class="pt-1 text-[12px] text-third" data-testid="overdraw">
    As the stage stands, a pixel that is covered is drawn <b class="mono">{overdraw.mean.toFixed(2)}</b> times
    on the mean, <b class="mono">{overdraw.most}</b> at most; {Math.round(overdraw.covered * 100)} % of the picture
    is covered.
  </p>
{/if}
{#if gpu && (!gpu.isOffered || gpu.milliseconds !== null)}
  <p class="pt-1 text-[12px] text-third" data-testid="gpu-time">
    {#if gpu.isOffered}
      Its last frame took this graphics card <b class="mono">{gpu.milliseconds?.toFixed(2)} ms</b>.
    {:else}
      This browser does not tell how long the graphics card takes for a frame.
    {/if}
  </p>
{/if}

<style>
  .over {
    color: var(--oxblood);
  }
  .over :global(*) {
    color: var(--oxblood);
  }
  .name {
    width: 64px;
    background: transparent;
    text-align: right;
    text-overflow: ellipsis;
  }
  .name:hover,
  .name:focus {
    background: var(--sheet);
  }
</style>
