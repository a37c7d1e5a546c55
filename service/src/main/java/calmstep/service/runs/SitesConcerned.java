package calmstep.service.runs;

import java.util.List;

/**
 * A run begins at some sites, or is over at them. Published within the transaction that makes it
 * so; for sites where it is over, perhaps more than once.
 *
 * @param over otherwise it begins
 */
public record SitesConcerned(long runId, List<String> sites, boolean over) {}
