import type { RecipeBody } from '#contract/recipes.ts';
import type { Recorded } from '#contract/setup.ts';
import { recordsApi } from '../records/endpoints.ts';
import { MasterDetail } from '../kit/master-detail.tsx';
import { useSignedIn } from '../people/use-me.ts';
import { RecipeForm } from './recipe-form.tsx';
import { freshRow } from './uplift-table.tsx';

const FRESH: RecipeBody = {
  name: '',
  basis: { kind: 'landed', list: null, cost: 'paid' },
  ladder: null,
  uplift: [freshRow([])],
  guards: [{ kind: 'not_below_cost', percent: null, amount: null }],
};

function bodyOf({ id: _id, version: _version, ...body }: Recorded<RecipeBody>): RecipeBody {
  return body;
}

export function Recipes() {
  const me = useSignedIn();
  const { data: recipes = [], isLoading } = recordsApi.useRecipesQuery();
  return (
    <MasterDetail
      title="Recipes"
      about="The ordered way from a cost to a sell price: basis, uplift, tax, ladder, guards."
      one="recipe"
      to="/recipes"
      records={recipes}
      loading={isLoading}
      mayMake={me.rights.has('edit_rules')}
      none="A recipe turns landed cost into sell prices for a list. Make the first one."
      form={RecipeForm}
      startOf={(record) => (record ? bodyOf(record) : FRESH)}
    />
  );
}
