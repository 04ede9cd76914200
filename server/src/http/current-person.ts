import type { Actor, Role } from '@keyroster/core';

/** The signed-in person within a blog. */
export interface CurrentPerson extends Actor {
  name: string;
  email: string;
  role: Role;
  blogId: number;
  /** Do notes that mention them come by mail, too? */
  mailMentions: boolean;
  mailComments: boolean;
}
