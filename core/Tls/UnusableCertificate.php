<?php

declare(strict_types=1);

namespace Ypomna\Core\Tls;

/** A file that should have a certificate in it has none that can be used; the message says why, after “because”. */
final class UnusableCertificate extends \RuntimeException
{
}
