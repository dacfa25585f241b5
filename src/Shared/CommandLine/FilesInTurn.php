<?php

declare(strict_types=1);

namespace Ypomna\App\Shared\CommandLine;

use Symfony\Component\Console\Command\Command;
use Ypomna\App\FileCommands;

/** Goes through the files that a checking command was given; one that cannot be read does not keep it from the others. */
final class FilesInTurn
{
    /**
     * @param list<string> $names
     * @param \Closure(GivenFile): bool $check says whether the file is valid
     *
     * @return int exit status: 0 all are valid, 1 some are not, 2 some could not be read
     */
    public static function check(array $names, Output $out, \Closure $check): int
    {
        $status = Command::SUCCESS;
        foreach ($names as $name) {
            try {
                $status = $check(new GivenFile($name)) ? $status : max($status, Command::FAILURE);
            } catch (UnreadableFile $e) {
                $out->tell($e->getMessage());
                $status = FileCommands::CANNOT_WORK;
            }
        }

        return $status;
    }
}
