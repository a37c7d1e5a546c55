/**
 * The service: feature packages over one PostgreSQL, an HTTP interface under {@code /api}, the
 * shelf's servers for devices, and the engine that carries runs out. Each package holds its entity,
 * repository, use case and controller, package-private; what other packages need is its use case.
 * What is planned is computed in {@code calmstep.core}, what is said to devices stands in the
 * dialects.
 */
@NullMarked
package calmstep.service;

import org.jspecify.annotations.NullMarked;
