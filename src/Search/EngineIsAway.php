<?php

declare(strict_types=1);

namespace Ypomna\App\Search;

/** The index of words cannot be asked: its engine is not installed, or it is damaged. */
final class EngineIsAway extends \RuntimeException
{
}
