import { useNavigate, useParams } from 'react-router';
import type { RecipeBody } from '#contract/recipes.ts';
import type { Recorded } from '#contract/setup.ts';
import { recordsApi } from '../records/endpoints.ts';
import { Button, Empty, ViewHead } from '../kit/controls.tsx';
import { SideList } from '../kit/side-list.tsx';
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
  const { id } = useParams();
  const me = useSignedIn();
  const navigate = useNavigate();
  const { data: recipes = [], isLoading } = recordsApi.useRecipesQuery();
  const chosen = recipes.find((r) => r.id === id);
  const may = me.rights.has('edit_rules');
  return (
    <>
      <ViewHead
        title="Recipes"
        about="The ordered way from a cost to a sell price: basis, uplift, tax, ladder, guards."
      >
        {may ? <Button onClick={() => void navigate('/recipes/new')}>New recipe</Button> : null}
      </ViewHead>
      <div className="flex min-h-0 flex-1">
        <SideList label="Recipes" to="/recipes" records={recipes} open={id} />
        <div className="min-w-0 flex-1 scroll-pb-20 overflow-auto">
          {id === 'new' && may ? (
            <RecipeForm
              key="new"
              id={null}
              version={0}
              start={FRESH}
              editable
              onKept={(made) => void navigate(`/recipes/${made}`)}
            />
          ) : chosen ? (
            <RecipeForm
              key={`${chosen.id}`}
              id={chosen.id}
              version={chosen.version}
              start={bodyOf(chosen)}
              editable={may}
              onKept={() => undefined}
            />
          ) : (
            !isLoading && (
              <Empty>
                {recipes.length === 0
                  ? 'A recipe turns landed cost into sell prices for a list. Make the first one.'
                  : 'Choose a recipe at the left.'}
              </Empty>
            )
          )}
        </div>
      </div>
    </>
  );
}
