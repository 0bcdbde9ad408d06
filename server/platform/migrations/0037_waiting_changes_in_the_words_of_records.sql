-- what changes to come say is named as records name it; those that were written down before are brought along
UPDATE "changes_to_come" c SET "fields" = (c."fields" - r.was) || jsonb_build_object(r.now, c."fields" -> r.was)
FROM (VALUES
  ('categories', 'parentId', 'parent'), ('lists', 'validFrom', 'from'), ('floors', 'itemId', 'item')
) r(register, was, now)
WHERE c."state" = 'waiting' AND c."register" = r.register AND c."fields" ? r.was;--> statement-breakpoint
UPDATE "changes_to_come" c SET "fields" = (c."fields" - r.was) || jsonb_build_object(r.now, c."fields" -> r.was)
FROM (VALUES ('lists', 'validTo', 'to'), ('floors', 'categoryId', 'category')) r(register, was, now)
WHERE c."state" = 'waiting' AND c."register" = r.register AND c."fields" ? r.was;--> statement-breakpoint
UPDATE "changes_to_come" c SET "fields" = (c."fields" - 'groupId') || jsonb_build_object('group', c."fields" -> 'groupId')
WHERE c."state" = 'waiting' AND c."register" = 'floors' AND c."fields" ? 'groupId';--> statement-breakpoint
UPDATE "changes_to_come" c SET "fields" = (c."fields" - 'groupId' - 'otherGroups') || jsonb_build_object('groups',
  (CASE WHEN coalesce(CASE WHEN c."fields" ? 'groupId' THEN c."fields" ->> 'groupId' ELSE p.group_id::text END, '') = '' THEN '[]'::jsonb
    ELSE jsonb_build_array(CASE WHEN c."fields" ? 'groupId' THEN c."fields" ->> 'groupId' ELSE p.group_id::text END) END)
  || coalesce(CASE WHEN c."fields" ? 'otherGroups' THEN c."fields" -> 'otherGroups' ELSE p.more -> 'otherGroups' END, '[]'::jsonb))
FROM "customers" p
WHERE c."state" = 'waiting' AND c."register" = 'customers' AND p.id = c."record_id" AND c."fields" ?| array['groupId', 'otherGroups'];--> statement-breakpoint
UPDATE "changes_to_come" c SET "fields" = (c."fields" - s.words) || jsonb_build_object('landed', jsonb_build_object(
  'freight', CASE WHEN (s.all ->> 'freightPer') IS NULL OR (s.all ->> 'freightAmount') IS NULL THEN NULL
    ELSE jsonb_build_object('per', s.all ->> 'freightPer',
      'amount', jsonb_build_object('amount', s.all ->> 'freightAmount', 'currency', coalesce(s.all ->> 'freightCurrency', s.own))) END,
  'dutyPercent', s.all ->> 'dutyPercent',
  'handling', CASE WHEN (s.all ->> 'handlingAmount') IS NULL THEN NULL
    ELSE jsonb_build_object('amount', s.all ->> 'handlingAmount', 'currency', coalesce(s.all ->> 'handlingCurrency', s.own)) END,
  'overheadPercent', s.all ->> 'overheadPercent',
  'orderFee', s.all -> 'orderFee',
  'usualOrder', s.all ->> 'usualOrder'))
FROM (
  SELECT t.id, (SELECT currency FROM "workspace_settings" LIMIT 1) AS own,
    array['freightPer', 'freightAmount', 'freightCurrency', 'dutyPercent', 'handlingAmount', 'handlingCurrency', 'overheadPercent', 'orderFee', 'usualOrder'] AS words,
    jsonb_build_object('freightPer', p.freight_per, 'freightAmount', p.freight_amount::text, 'freightCurrency', p.freight_currency,
      'dutyPercent', p.duty_percent::text, 'handlingAmount', p.handling_amount::text, 'handlingCurrency', p.handling_currency,
      'overheadPercent', p.overhead_percent::text) || p.more || t."fields" AS all
  FROM "changes_to_come" t JOIN "suppliers" p ON p.id = t."record_id"
  WHERE t."state" = 'waiting' AND t."register" = 'suppliers'
) s
WHERE s.id = c.id AND c."fields" ?| s.words;--> statement-breakpoint
UPDATE "changes_to_come" c SET "fields" = (c."fields" - 'basis' - 'basisList' - 'costSide') || jsonb_build_object('basis', jsonb_build_object(
  'kind', coalesce(c."fields" ->> 'basis', r.basis_kind),
  'list', CASE WHEN c."fields" ? 'basisList' THEN c."fields" -> 'basisList' ELSE to_jsonb(r.basis_list_id::text) END,
  'cost', coalesce(c."fields" ->> 'costSide', r.more ->> 'costSide', 'paid')))
FROM "recipes" r
WHERE c."state" = 'waiting' AND c."register" = 'recipes' AND r.id = c."record_id" AND c."fields" ?| array['basis', 'basisList', 'costSide'];--> statement-breakpoint
UPDATE "changes_to_come" c SET "fields" = c."fields" || jsonb_build_object('uplift', (
  SELECT jsonb_agg(jsonb_build_object('id', n::text, 'method', u -> 'method', 'value', u -> 'value', 'currency', u -> 'currency', 'scope',
    jsonb_strip_nulls(jsonb_build_object('item', u -> 'item', 'model', u -> 'model', 'attributes', u -> 'attributes', 'brand', u -> 'brand',
      'supplier', u -> 'supplier', 'category', u -> 'category', 'pack', u -> 'pack', 'lockstep', u -> 'lockstep', 'channel', u -> 'channel',
      'band', CASE WHEN (u ->> 'bandFrom') IS NULL AND (u ->> 'bandTo') IS NULL THEN NULL
        ELSE jsonb_build_object('from', coalesce(u ->> 'bandFrom', '0'), 'to', u -> 'bandTo') END))) ORDER BY n)
  FROM jsonb_array_elements(c."fields" -> 'uplift') WITH ORDINALITY rows(u, n)))
WHERE c."state" = 'waiting' AND c."register" = 'recipes' AND c."fields" ? 'uplift';--> statement-breakpoint
UPDATE "changes_to_come" c SET "fields" = c."fields" || jsonb_build_object('guards', (
  SELECT coalesce(jsonb_agg(jsonb_build_object('kind', g -> 'kind', 'percent', g -> 'percent', 'amount',
    CASE WHEN (g ->> 'amount') IS NULL OR (g ->> 'currency') IS NULL THEN NULL
      ELSE jsonb_build_object('amount', g -> 'amount', 'currency', g -> 'currency') END) ORDER BY n), '[]'::jsonb)
  FROM jsonb_array_elements(c."fields" -> 'guards') WITH ORDINALITY rows(g, n)))
WHERE c."state" = 'waiting' AND c."register" = 'recipes' AND c."fields" ? 'guards';
