<?php

declare(strict_types=1);

namespace Ypomna\App;

use Symfony\Component\Console\Application;
use Symfony\Component\Console\Command\Command;
use Symfony\Component\Console\Exception\ExceptionInterface;
use Symfony\Component\Console\Input\ArgvInput;
use Symfony\Component\Console\Output\ConsoleOutput;
use Ypomna\App\Capture\Console\CaptureFileCommand;
use Ypomna\App\Catalogue\Console\AddressRulesCommand;
use Ypomna\App\Catalogue\Console\UrlKeyCommand;
use Ypomna\App\Compare\Console\CompareCommand;
use Ypomna\App\Exchange\Console\MhtmlCheckCommand;
use Ypomna\App\Exchange\Console\MhtmlListCommand;
use Ypomna\App\Exchange\Console\WarcCheckCommand;
use Ypomna\App\Exchange\Console\WarcListCommand;
use Ypomna\App\Liveness\Console\LiveCheckCommand;
use Ypomna\App\Mark\Console\MarkPlaceCommand;
use Ypomna\App\Replay\Console\MainTextCommand;
use Ypomna\App\Replay\Console\PageTextCommand;
use Ypomna\App\Replay\Console\ReplayCommand;
use Ypomna\App\Shared\CommandLine\Output;
use Ypomna\App\Shared\CommandLine\UnreadableFile;
use Ypomna\App\Shared\Software;

/**
 * The commands that work on files alone, without server, database or the application's caches. Exit status: 0 all well;
 * 1 the command worked and found something wrong; 2 it could not work.
 */
final class FileCommands
{
    public const CANNOT_WORK = 2;

    /** @var array<string, class-string<Command>> */
    private const COMMANDS = [
        'warc:list' => WarcListCommand::class, 'warc:check' => WarcCheckCommand::class, 'mhtml:list' => MhtmlListCommand::class,
        'mhtml:check' => MhtmlCheckCommand::class, 'url:key' => UrlKeyCommand::class, 'replay' => ReplayCommand::class,
        'capture' => CaptureFileCommand::class, 'compare' => CompareCommand::class, 'text:main' => MainTextCommand::class,
        'live:check' => LiveCheckCommand::class, 'address:rules' => AddressRulesCommand::class,
        'text:page' => PageTextCommand::class, 'mark:place' => MarkPlaceCommand::class,
    ];

    public static function knows(string $name): bool
    {
        return isset(self::COMMANDS[$name]);
    }

    /**
     * @param list<string> $arguments of the process
     */
    public static function run(array $arguments): int
    {
        $application = new Application('Ypomna', Software::VERSION);
        $application->setAutoExit(false);
        $application->setCatchExceptions(false);
        foreach (self::COMMANDS as $class) {
            $application->add(new $class());
        }
        $output = new ConsoleOutput();
        try {
            return $application->run(new ArgvInput($arguments), $output);
        } catch (UnreadableFile|ExceptionInterface $e) {
            (new Output($output, false))->tell($e->getMessage());

            return self::CANNOT_WORK;
        }
    }
}
