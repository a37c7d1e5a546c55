package calmstep.service.plans;

import calmstep.core.plan.NightsView;
import java.util.List;

/**
 * What other wishes for a plan's nights come to, and what that costs against the nights before, as
 * sentences.
 */
public record WishedView(NightsView nights, List<String> costs) {}
