<?php

declare(strict_types=1);

namespace Ypomna\App\Shared;

use Symfony\Component\Console\Formatter\OutputFormatter;
use Ypomna\Core\PlainText;

/** What commands say: titles, addresses and names in it are of somebody else, and must not steer the terminal that shows them. */
final class PlainFormatter extends OutputFormatter
{
    public function formatAndWrap(?string $message, int $width): string
    {
        return parent::formatAndWrap(null === $message ? null : PlainText::lines($message), $width);
    }
}
