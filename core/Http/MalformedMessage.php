<?php

declare(strict_types=1);

namespace Ypomna\Core\Http;

final class MalformedMessage extends \RuntimeException
{
}
