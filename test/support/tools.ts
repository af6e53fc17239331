import { spawnSync } from 'node:child_process';
import { test } from '@jest/globals';

export type Command = readonly [string, ...string[]];

/** Commands that succeed where a tool is there, with the Debian package that has it. */
/** Models with typed fields, of Debian's own Python. */
export const MODELS_OF_PYTHON: Command = ['/usr/bin/python3', '-c', 'import pydantic']; // python3-pydantic
export const ICU_OF_PYTHON: Command = ['/usr/bin/python3', '-c', 'import icu']; // python3-icu
export const JAVA: Command = ['javac', '-version']; // default-jdk-headless
export const ICU_OF_JAVA: Command = ['test', '-f', '/usr/share/java/icu4j.jar']; // libicu4j-java
export const GETTEXT: Command = ['msgcat', '--version']; // gettext
export const PHP: Command = ['php', '-r', "exit(extension_loaded('intl') ? 0 : 1);"]; // php-cli, php-intl
export const PERL: Command = ['perl', '-MJSON::PP', '-e', '1']; // perl
export const GO: Command = ['go', 'version']; // golang-go
export const RUBY: Command = ['ruby', '-v']; // ruby
export const MYPY: Command = ['mypy', '--version']; // mypy
export const CURL: Command = ['curl', '--version']; // curl
export const NEOVIM: Command = ['nvim', '--version']; // neovim

/**
 * A test that needs tools that npm cannot bring: CI installs them, and elsewhere it is left out
 * where one is not there.
 */
export const testWith = (...tools: readonly Command[]): typeof test | typeof test.skip =>
  process.env.CI === 'true' ||
  tools.every(([command, ...args]) => spawnSync(command, args).status === 0)
    ? test
    : test.skip;
