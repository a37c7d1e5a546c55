/**
 * The command-line client: nouns, then verbs. It uses the service's HTTP interface and nothing
 * else, except for {@code path}, which also works from files with the core alone. What is meant for
 * programs ({@code --output json|yaml|csv}) goes to standard output and so do answers for people;
 * progress and complaints go to standard error. Exit codes: 0 done, 1 done with stops or failures,
 * 2 wrong call, 3 not signed in or not allowed, 4 service not reachable.
 */
@NullMarked
package calmstep.cli;

import org.jspecify.annotations.NullMarked;
