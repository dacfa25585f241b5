<?php

declare(strict_types=1);

namespace Ypomna\Core\Http;

final class UnsupportedCoding extends \RuntimeException
{
    public function __construct(public readonly string $coding)
    {
        parent::__construct(\sprintf('The content-coding “%s” cannot be taken off here.', mb_strimwidth(mb_scrub($coding), 0, 40, '…')));
    }
}
