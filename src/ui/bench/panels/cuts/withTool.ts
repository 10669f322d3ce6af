import type { Job, Tool } from '../../../../core/job/schema';

/** The job with a cutter of the crib taken into it. */
export const withTool = (job: Job, tool: Tool): Job =>
  job.tools.some((t) => t.id === tool.id) ? job : { ...job, tools: [...job.tools, tool] };
