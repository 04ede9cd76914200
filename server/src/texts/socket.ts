import { ServerResponse, type IncomingMessage, type Server } from 'node:http';
import type { Duplex } from 'node:stream';
import type { Express, Request, RequestHandler } from 'express';
import { WebSocketServer } from 'ws';
import { MAX_TEXT_MESSAGE, TEXT_CLOSED } from '@keyroster/contract';
import { roleMay } from '@keyroster/core';
import type { Db } from '../db/connect.js';
import type { CurrentPerson } from '../http/current-person.js';
import { isOwnOrigin } from '../http/origin.js';
import { log } from '../log.js';
import { visiblePost } from '../posts/visible.js';
import type { SharedTexts } from './shared-texts.js';
import { TextLink } from './text-link.js';

const PATH = /^\/api\/posts\/(\d{1,9})\/text$/;
const BEAT_MS = 25_000;
/** So many texts, or windows on one, a person has open at once at most. */
const MAX_OF_ONE = 60;

/** Who a request for a connection is from, as for any other request; null when nobody is signed in. */
async function personOf(
  app: Express,
  req: IncomingMessage,
  signIn: readonly RequestHandler[],
): Promise<{ person: CurrentPerson; request: Request } | null> {
  // Express gives its requests what the session looks for.
  const request = Object.setPrototypeOf(req, app.request) as Request;
  const res = Object.setPrototypeOf(new ServerResponse(req), app.response) as Request['res'] & object;
  Object.assign(request, { app, res, originalUrl: req.url, baseUrl: '' });
  res.locals = {};
  for (const handler of signIn)
    await new Promise<void>((done, failed) => {
      const answer = handler(request, res, (error?: unknown) => (error ? failed(error as Error) : done()));
      Promise.resolve(answer).catch(failed);
    });
  const person = res.locals['person'] as CurrentPerson | null;
  return person && { person, request };
}

/** Serves the connections through which texts are written in together. Returns how they are all ended. */
export function serveTexts(
  server: Server,
  app: Express,
  db: Db,
  texts: SharedTexts,
  signIn: readonly RequestHandler[],
  publicUrl: string,
): () => void {
  const sockets = new WebSocketServer({ noServer: true, maxPayload: MAX_TEXT_MESSAGE });
  const links = new Set<TextLink>();
  const beat = setInterval(() => links.forEach((link) => link.beat(Date.now())), BEAT_MS);
  beat.unref();

  const refuse = (socket: Duplex, status: string) =>
    socket.end(`HTTP/1.1 ${status}\r\nConnection: close\r\nContent-Length: 0\r\n\r\n`);

  const upgrade = async (req: IncomingMessage, socket: Duplex, head: Buffer): Promise<void> => {
    const postId = Number(PATH.exec((req.url ?? '').split('?')[0]!)?.[1]);
    if (!postId) return void refuse(socket, '404 Not Found');
    const found = await personOf(app, req, signIn);
    // Browsers let any page open a connection; only ours may.
    if (found && !isOwnOrigin(found.request, publicUrl)) return void refuse(socket, '403 Forbidden');
    if (!found || !roleMay(found.person.role, 'enterNewsroom'))
      return void refuse(socket, '401 Unauthorized');
    const { person, request } = found;
    if ([...links].filter((link) => link.personId === person.id).length >= MAX_OF_ONE)
      return void refuse(socket, '429 Too Many Requests');
    if (!(await visiblePost(db, person, postId).catch(() => null)))
      return void refuse(socket, '404 Not Found');
    sockets.handleUpgrade(req, socket, head, (ws) => {
      const until = request.session.cookie.expires?.getTime() ?? Infinity;
      const link = new TextLink(ws, person, postId, request.sessionID, until);
      links.add(link);
      ws.binaryType = 'nodebuffer';
      ws.on('pong', () => (link.isAlive = true));
      ws.on('error', () => ws.terminate());
      // In the order in which they come, the first after the text is there.
      let turn = texts.join(link).catch((error: unknown) => {
        log.warn({ err: error }, 'a text that cannot be opened');
        link.close(TEXT_CLOSED.restarts);
      });
      ws.on('message', (data: Buffer, isBinary) => {
        link.isAlive = true;
        turn = turn
          .then(() => {
            if (!isBinary) throw new RangeError('Not binary.');
            return texts.receive(link, new Uint8Array(data));
          })
          .catch(() => link.close(TEXT_CLOSED.garbage));
      });
      ws.on('close', () => {
        links.delete(link);
        void turn.then(() => texts.leave(link));
      });
    });
  };
  server.on('upgrade', (req, socket, head) => {
    socket.on('error', () => socket.destroy());
    upgrade(req, socket, head).catch((error: unknown) => {
      log.warn({ err: error }, 'a connection that was not made');
      refuse(socket, '503 Service Unavailable');
    });
  });
  return () => {
    clearInterval(beat);
    sockets.close();
  };
}
