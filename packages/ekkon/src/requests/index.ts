export type { Fetch, RequestParts, RequestSeen, StandInServer } from '../pattern/requests/types.ts';
export { networkRequests, type RequestMade } from './network-requests.ts';
export { request } from './request.ts';
export { type ResponseOptions, responds } from './responds.ts';
