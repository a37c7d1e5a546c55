package calmstep.service.runs;

/**
 * Every unit of a run is over, or it was abandoned. Published within the transaction that finishes
 * the run.
 */
public record RunFinished(long runId) {}
