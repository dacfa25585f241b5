<?php

declare(strict_types=1);

namespace Ypomna\Tests\App;

use PHPUnit\Framework\Attributes\DataProvider;
use Symfony\Component\Console\Command\Command;
use Symfony\Component\Console\Command\LazyCommand;
use Symfony\Component\Console\Tester\ApplicationTester;
use Symfony\Component\Security\Core\Authentication\Token\Storage\TokenStorageInterface;
use Ypomna\App\Access\Allow;
use Ypomna\App\Access\Right;
use Ypomna\App\Capture\Entity\CaptureJob;
use Ypomna\App\Commands;
use Ypomna\App\Exchange\Importer;
use Ypomna\App\People\PersonChanges;
use Ypomna\App\Shared\Actor;
use Ypomna\App\Shared\Role;
use Ypomna\Tests\Support\WarcBuilder;

/** Commands that act for a person, with what they may see and do. */
final class CommandsTest extends AppTestCase
{
    private const SECRET = 'http://qzcanary.test/kept-for-two';
    /** Our commands that act for the system alone: services, settings, people, and what works on files. */
    private const FOR_THE_SYSTEM = [
        'address:rules', 'capture', 'catalogue:fill', 'catalogue:rebuild', 'compare', 'demo:load', 'ledger:restore', 'live:check',
        'mail:take', 'mark:place', 'mhtml:check', 'mhtml:list', 'person:add', 'person:close', 'person:first', 'person:role', 'public:check',
        'replay', 'schedule:run', 'search:index', 'standin:clock', 'text:main', 'text:page', 'token:add', 'token:end', 'url:key',
        'warc:check', 'warc:list',
    ];

    protected function setUp(): void
    {
        parent::setUp();
        self::service(TokenStorageInterface::class)->setToken(null);
        foreach (['Ilse Varga' => Role::Keeper, 'Someone Else' => Role::Keeper, 'Nerys Quill' => Role::Reader] as $name => $role) {
            $this->person($name, $role);
        }
    }

    public function testEachSaysForWhomItActs(): void
    {
        $system = $person = [];
        foreach ($this->commands() as $name => $command) {
            if ([] === (new \ReflectionClass($command))->getAttributes(Allow::class)) {
                $system[] = $name;
            } else {
                $person[] = $name;
            }
        }
        sort($system);
        sort($person);
        self::assertSame(self::FOR_THE_SYSTEM, $system);
        self::assertSame(['archives:add', 'capture:page', 'capture:site', 'export', 'import', 'references', 'verify'], $person);
    }

    public function testWhatActsForTheSystemActsForNobodyElse(): void
    {
        foreach (self::FOR_THE_SYSTEM as $name) {
            if (!$this->commands()[$name]->isHidden()) {
                self::assertStringContainsString('acts for the system alone', $this->runs([$name, '--as' => 'Ilse Varga'], 2), $name);
            }
        }
    }

    public function testARoleReachesAsFarAsItShould(): void
    {
        foreach ($this->commands() as $name => $command) {
            $allow = (new \ReflectionClass($command))->getAttributes(Allow::class)[0] ?? null;
            if (null !== $allow) {
                self::assertStringContainsString('does not allow it', $this->runs([$name, '--as' => 'Nerys Quill'], 2), $name);
                if (Right::Guard === $allow->newInstance()->right) {
                    self::assertStringContainsString('does not allow it', $this->runs([$name, '--as' => 'Ilse Varga'], 2), $name);
                }
            }
        }
    }

    /** @param array<string, string|bool> $options */
    #[DataProvider('exports')]
    public function testNoneGivesOutWhatItsPersonMayNotSee(array $options): void
    {
        $bytes = (new WarcBuilder('s'))->exchange(self::SECRET, '2024-11-05T10:00:00Z', '<title>qzcanary</title><p>qzcanary')->bytes();
        self::service(Importer::class)->file($this->folder->file('s.warc.gz', $bytes), new Actor('Ilse Varga'), true);
        $code = $this->captureOf(self::SECRET)->code;
        if (isset($options['--capture'])) {
            $options['--capture'] = [$code];
        }
        $said = $this->runs(['export', '--as' => 'Someone Else', 'folder' => $this->folder->path.'/out'] + $options, 1);
        self::assertStringNotContainsString('qzcanary', str_replace(self::SECRET, '', $said));
        self::assertStringNotContainsString($code, $said);
        self::assertFileDoesNotExist($this->folder->path.'/out/captures-00001.warc.gz');
        if (!isset($options['--all'])) {
            $this->runs(['export', '--as' => 'Ilse Varga', 'folder' => $this->folder->path.'/own'] + $options, 0);
        }
    }

    /** @return iterable<string, array{array<string, mixed>}> */
    public static function exports(): iterable
    {
        yield 'by its code' => [['--capture' => 'CODE']];
        yield 'by its address' => [['--address' => [self::SECRET]]];
        yield 'as one file' => [['--address' => [self::SECRET], '--mhtml' => true]];
        yield 'with everything' => [['--all' => true]];
    }

    public function testWhoActsIsWrittenDown(): void
    {
        $this->runs(['capture:page', '--as' => 'Ilse Varga', '--confidential' => true, 'url' => ['http://lantern.test/a']], 0);
        $job = self::made(CaptureJob::class)[0];
        self::assertSame(['Ilse Varga', true], [$job->agent, $job->limited]);
        $said = $this->runs(['capture:page', '--as' => 'Ilse Varga', '--missing' => true, 'url' => ['222222222222']], 1);
        self::assertStringContainsString('There is no capture with the code', $said);
    }

    public function testNobodyActsForSomebodyWhoIsNotThere(): void
    {
        self::assertStringContainsString('Nobody here is called', $this->runs(['export', '--as' => 'No One', 'folder' => '/tmp/x'], 2));
        self::service(PersonChanges::class)->close(new Actor('The test'), $this->person('Ilse Varga', Role::Keeper));
        self::assertStringContainsString('Nobody here is called', $this->runs(['export', '--as' => 'Ilse Varga', 'folder' => '/tmp/x'], 2));
    }

    /** @return array<string, Command> ours, by name */
    private function commands(): array
    {
        $ours = [];
        foreach ($this->application()->all() as $name => $command) {
            $command = $command instanceof LazyCommand ? $command->getCommand() : $command;
            if (str_starts_with($command::class, 'Ypomna\\') && $command->getName() === $name) {
                $ours[$name] = $command;
            }
        }

        return $ours;
    }

    /** @param array<int|string, mixed> $input */
    private function runs(array $input, int $status): string
    {
        self::service(TokenStorageInterface::class)->setToken(null);
        $tester = new ApplicationTester($this->application());
        $name = array_shift($input);
        $tester->run(['command' => $name] + $input, ['capture_stderr_separately' => false]);
        self::assertSame($status, $tester->getStatusCode(), $tester->getDisplay());

        return (string) preg_replace('/\s+/', ' ', $tester->getDisplay());
    }

    private function application(): Commands
    {
        self::assertNotNull(self::$kernel);
        $application = new Commands(self::$kernel);
        $application->setAutoExit(false);

        return $application;
    }
}
