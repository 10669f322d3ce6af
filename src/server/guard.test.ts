import { describe, expect, it } from 'vitest';
import { findRefusal, MAX_ANY_BODY_BYTES, readHosts } from './guard';

const JSON_TYPE = { 'content-type': 'application/json' };
const visit = (method: string, path: string, headers: Record<string, string>, hosts = readHosts(undefined)) =>
  findRefusal({ method, path, header: (name) => ({ host: '127.0.0.1:4310', ...headers })[name] ?? null }, hosts)?.status ?? 200;

describe('the guard', () => {
  it('answers to loopback and to the names it was given, and to no other (a name that was pointed here)', () => {
    for (const host of ['localhost', 'localhost:4310', '127.0.0.1:80', '[::1]:4310', 'LocalHost:1'])
      for (const path of ['/', '/api/jobs']) expect(visit('GET', path, { host }), host).toBe(200);
    for (const host of ['shop.example:4310', '127.0.0.1.shop.example', 'localhost.', '', '0.0.0.0:4310'])
      for (const path of ['/', '/api/jobs', '/jobs/x']) expect(visit('GET', path, { host }), host).toBe(421);
    const hosts = readHosts(' Bench.example , ,10.0.0.7');
    expect(visit('GET', '/', { host: 'bench.example:4310' }, hosts)).toBe(200);
    expect(visit('GET', '/', { host: '10.0.0.7' }, hosts)).toBe(200);
    expect(visit('GET', '/', { host: 'other.example' }, hosts)).toBe(421);
  });

  it('takes writes from its own pages and from programs, not from other pages', () => {
    for (const method of ['POST', 'PUT', 'DELETE', 'PATCH']) {
      const ask = (headers: Record<string, string>) => visit(method, '/api/jobs', { ...JSON_TYPE, ...headers });
      expect(ask({})).toBe(200);
      expect(ask({ origin: 'http://127.0.0.1:4310', 'sec-fetch-site': 'same-origin' })).toBe(200);
      for (const origin of ['http://shop.example', 'http://127.0.0.1:9999', 'null', '', 'http://localhost:4310'])
        expect(ask({ origin }), origin).toBe(403);
      for (const site of ['cross-site', 'same-site']) expect(ask({ 'sec-fetch-site': site }), site).toBe(403);
    }
  });

  it('does not hand data to other pages, but opens its pages from a link', () => {
    expect(visit('GET', '/api/jobs', { 'sec-fetch-site': 'cross-site' })).toBe(403);
    expect(visit('GET', '/api/jobs', { 'sec-fetch-site': 'none' })).toBe(200);
    expect(visit('GET', '/jobs/x', { 'sec-fetch-site': 'cross-site' })).toBe(200);
  });

  it('takes each route its own type: what a form or a page without leave can send is none of them', () => {
    for (const type of ['text/plain', 'application/x-www-form-urlencoded', 'multipart/form-data; boundary=x', ''])
      for (const path of ['/api/jobs', '/api/fonts', '/api/tools']) expect(visit('POST', path, { 'content-type': type }), type).toBe(415);
    expect(visit('PUT', '/api/jobs/x', { 'content-type': 'application/json; charset=utf-8' })).toBe(200);
    expect(visit('POST', '/api/fonts', { 'content-type': 'application/octet-stream' })).toBe(200);
    expect(visit('POST', '/api/fonts', JSON_TYPE)).toBe(415);
    expect(visit('POST', '/api/jobs', { 'content-type': 'application/octet-stream' })).toBe(415);
  });

  it('refuses by its length what no route would take', () => {
    expect(visit('POST', '/api/jobs', { ...JSON_TYPE, 'content-length': String(MAX_ANY_BODY_BYTES + 1) })).toBe(413);
    expect(visit('POST', '/api/jobs', { ...JSON_TYPE, 'content-length': String(MAX_ANY_BODY_BYTES) })).toBe(200);
  });
});
