// Brings DATABASE_URL to the newest shape and leaves it.
import { connect, migrate } from '@keyroster/server';

const db = connect(process.env.DATABASE_URL);
await migrate(db, process.env.DATABASE_URL);
await db.destroy();
