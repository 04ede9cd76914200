/** Who a post was reassigned to, as long as they are of the desk still: it never waits for nobody. */
export const REVIEWER = `(
  select
    m.person_id
  from
    memberships m
  where
    m.blog_id = posts.blog_id
    and m.person_id = posts.editor_id
    and m.role in ('editor', 'managing editor')
)`;
