<?php

declare(strict_types=1);

namespace Ypomna\Tests\System;

use PHPUnit\Framework\TestCase;
use Ypomna\Tests\Support\Stack;

/** The start command, as a person meets it on a good and on a bad day. */
final class StartTest extends TestCase
{
    private Stack $stack;

    protected function setUp(): void
    {
        $this->stack = new Stack(getenv('YPOMNA_TEST_TMP').'/start-'.bin2hex(random_bytes(3)));
    }

    protected function tearDown(): void
    {
        $this->stack->stop();
    }

    public function testItStartsEmptyAgainAndStopsWithoutATrace(): void
    {
        [$status, $said] = $this->stack->start(['--empty']);
        self::assertSame(0, $status, $said);
        self::assertStringContainsString('Ypomna runs at http://localhost:'.$this->stack->port.'/', $said);
        self::assertStringNotContainsString('stand-in', $said);
        // Whoever has started it can become its first person; nobody else gets in.
        self::assertSame(1, preg_match('~^Nobody can sign in yet\..* http://localhost:\d+(/sign-in/link/[\w-]{43})$~m', $said, $m), $said);
        self::assertStringContainsString('Become the administrator', $this->get($m[1]));
        self::assertStringContainsString('bin/start prints a link', $this->get('/'));
        self::assertStringContainsString('Nothing is captured yet.', $this->stack->page('/'));
        [$status, $said] = $this->stack->ypomna('standin:clock', '2024-11-12');
        self::assertSame(1, $status);
        self::assertStringContainsString('real time', $said);

        // A second start finds everything running and changes nothing.
        $settings = (string) file_get_contents($this->stack->data.'/ypomna.env');
        $running = $this->processes();
        [$status] = $this->stack->start();
        self::assertSame(0, $status);
        self::assertSame($settings, file_get_contents($this->stack->data.'/ypomna.env'));
        self::assertSame($running, $this->processes());

        // Only its owner reads the settings: they hold the database's password.
        self::assertSame('0600', substr(\sprintf('%o', fileperms($this->stack->data.'/ypomna.env')), -4));

        [$status, $said] = $this->stack->stop();
        self::assertSame(0, $status, $said);
        self::assertSame([], $this->processes());

        // What was set stays set, and the mode of the folder with it.
        [$status, $said] = $this->stack->start(['--empty']);
        self::assertSame(0, $status, $said);
        self::assertSame($settings, file_get_contents($this->stack->data.'/ypomna.env'));
    }

    public function testAnEmptyInstallationIsFilledWithMadeUpCapturesOnce(): void
    {
        [$status, $said] = $this->stack->start(['--empty']);
        self::assertSame(0, $status, $said);
        self::assertSame(2, $this->stack->ypomna('catalogue:fill', 'many')[0]);
        [$status, $said] = $this->stack->ypomna('catalogue:fill', '2000');
        self::assertSame([0, "2000 captures are in, 400 of them of one address.\n"], [$status, $said]);
        self::assertStringContainsString('400 captures', $this->stack->page('/find?q=timetable'), 'Words are found.');
        self::assertStringContainsString('host0.test/folder/page-10', $this->stack->page('/find?q=host0.test/folder/*'));
        [$status, $said] = $this->stack->ypomna('catalogue:fill', '2000');
        self::assertSame(1, $status);
        self::assertStringContainsString('not empty', $said);
    }

    public function testAFolderThatOnlyItsOwnerMayEnterIsServedByThatOwner(): void
    {
        mkdir($this->stack->data, 0o700);
        chmod($this->stack->data, 0o700);
        $this->stack = new Stack($this->stack->data.'/inside', port: $this->stack->port);
        [$status, $said] = $this->stack->start(['--empty']);
        self::assertSame(0, $status, $said);
        self::assertStringContainsString('Nothing is captured yet.', $this->stack->page('/'));
    }

    public function testAPortInUseIsNamed(): void
    {
        $socket = stream_socket_server('tcp://127.0.0.1:'.($this->stack->port + 1));
        [$status, $said] = $this->stack->start(['--empty']);
        self::assertNotFalse($socket);
        fclose($socket);
        self::assertSame(1, $status);
        self::assertSame(
            'Port '.($this->stack->port + 1)
                .' of 127.0.0.1 is in use by another program, and the database needs it. Choose another: bin/start --port N',
            trim($said),
        );
        self::assertSame([], $this->processes());
    }

    public function testWrongOptionsAreNamed(): void
    {
        foreach ([['--fast'], ['--port', '99999999'], ['--port']] as $options) {
            [$status, $said] = Stack::run([Stack::root().'/bin/start', ...$options]);
            self::assertSame(1, $status);
            self::assertNotSame('', trim($said));
            self::assertStringNotContainsString(' line ', $said);
        }
    }

    public function testAFolderThatCannotBeMadeIsNamed(): void
    {
        [$status, $said] = Stack::run([Stack::root().'/bin/start', '--empty', '--data', '/proc/ypomna']);
        self::assertSame(1, $status);
        self::assertSame('The data folder /proc/ypomna cannot be made: no right to write there, or the disk is full.', trim($said));
    }

    /**
     * @return list<string> commands that run in or for the data folder
     */
    private function processes(): array
    {
        $found = [];
        foreach (new \DirectoryIterator('/proc') as $entry) {
            $pid = $entry->getFilename();
            if (!ctype_digit($pid)) {
                continue;
            }
            $command = str_replace("\0", ' ', (string) @file_get_contents("/proc/{$pid}/cmdline"));
            if (str_contains($command, $this->stack->data.'/')) {
                $found[] = $pid.' '.strtok($command, ' ');
            }
        }
        sort($found);

        return $found;
    }

    private function get(string $path): string
    {
        return (string) @file_get_contents('http://localhost:'.$this->stack->port.$path);
    }
}
