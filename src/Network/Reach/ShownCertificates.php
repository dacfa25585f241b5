<?php

declare(strict_types=1);

namespace Ypomna\App\Network\Reach;

use Psr\Clock\ClockInterface;
use Symfony\Component\DependencyInjection\Attribute\Autowire;
use Ypomna\Core\Tls\ServerCertificate;
use Ypomna\Core\Tls\UnusableCertificate;

/** Whether certificates are what readers' browsers ask for: of the right names, and of this day. */
final readonly class ShownCertificates
{
    private const SOON_DAYS = 14;

    public function __construct(#[Autowire('@real_time')] private ClockInterface $clock)
    {
    }

    /**
     * A certificate and its key in files, before a server is told to use them.
     *
     * @return list<string> sentences; empty if the server can use them
     */
    public function filesFaults(string $certificate, string $key): array
    {
        $faults = [];
        foreach ([$certificate, $key] as $file) {
            if (!is_file($file) || !is_readable($file)) {
                $faults[] = \sprintf('The file %s cannot be read by the user %s.', $file, self::user());
            }
        }
        if ([] !== $faults) {
            return $faults;
        }
        try {
            $says = ServerCertificate::parse((string) file_get_contents($certificate));
        } catch (UnusableCertificate $e) {
            return [\sprintf('The file %s cannot be used: %s.', $certificate, $e->getMessage())];
        }

        return $says->isOf((string) file_get_contents($key))
            ? [] : [\sprintf('The key in %s is not that of the certificate in %s, or is locked by a password.', $key, $certificate)];
    }

    /**
     * @param string $host that it is shown for
     * @param string|null $below the domain below which every name has to be covered; null if it is this host alone
     *
     * @return list<string> sentences
     */
    public function faults(ServerCertificate $says, string $host, ?string $below): array
    {
        $now = $this->clock->now();
        $name = $below ?? $host;
        $until = $says->until->format('j M Y');
        $stands = [] === $says->names ? 'no name' : implode(', ', \array_slice($says->names, 0, 5)).(\count($says->names) > 5 ? ' …' : '');

        return array_values(array_filter([
            null !== $below && !$says->coversBelow($below)
                ? \sprintf('The certificate for archived pages has no wildcard *.%s; it stands for %s.', $below, $stands) : '',
            null === $below && !$says->covers($host)
                ? \sprintf('The certificate does not cover %s; it stands for %s.', $host, $stands) : '',
            $says->from > $now
                ? \sprintf('The certificate for %s holds from %s on only.', $name, $says->from->format('j M Y')) : '',
            $says->until <= $now ? \sprintf('The certificate for %s ended on %s.', $name, $until) : '',
            $says->until > $now && $says->until < $now->modify('+'.self::SOON_DAYS.' days')
                ? \sprintf('The certificate for %s ends soon, on %s.', $name, $until) : '',
        ], static fn (string $fault): bool => '' !== $fault));
    }

    private static function user(): string
    {
        $user = posix_getpwuid(posix_geteuid());

        return false === $user ? (string) posix_geteuid() : $user['name'];
    }
}
