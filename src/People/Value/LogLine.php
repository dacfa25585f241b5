<?php

declare(strict_types=1);

namespace Ypomna\App\People\Value;

use Ypomna\App\People\LoggedAct;

/** One line of the log of people. */
final readonly class LogLine
{
    public function __construct(
        public int $id,
        public \DateTimeImmutable $at,
        public LoggedAct $act,
        public string $who,
        public string $whom,
        public string $detail,
        public string $network,
    ) {
    }
}
