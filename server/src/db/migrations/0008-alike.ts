import type { Knex } from 'knex';

export async function up(knex: Knex): Promise<void> {
  await knex.raw(`
    -- A signature's 128 values by twos. Two texts meet when a pair is the same in both: with a share s of their
    -- runs of words in common that is 1 - (1 - s²)^56, 0.998 at a third, where the checks begin to warn.
    create function signature_bands(integer[]) returns bigint[]
      language sql immutable strict parallel safe
      return (
        select array_agg(($1[2 * i - 1]::bigint << 32) | ($1[2 * i]::bigint & 4294967295))
        from generate_series(1, 56) i
      );
    drop table post_bands;
    create index post_signatures_bands on post_signatures
      using gin (signature_bands(signature)) with (fastupdate = off);
  `);
}

export async function down(): Promise<void> {
  await Promise.reject(new Error('Migrations only go forward; restore a backup instead.'));
}
