import { NextResponse, type NextRequest } from 'next/server';
import { findRefusal, readHosts } from './server/guard';

/** Stands in front of every page and route. */
export function proxy(request: NextRequest): NextResponse {
  const visit = { method: request.method, path: request.nextUrl.pathname, header: (name: string) => request.headers.get(name) };
  const refusal = findRefusal(visit, readHosts(process.env.HOBEL_HOSTS));
  return refusal ? NextResponse.json(refusal.problem, { status: refusal.status }) : NextResponse.next();
}
