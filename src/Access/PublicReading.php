<?php

declare(strict_types=1);

namespace Ypomna\App\Access;

use Symfony\Component\DependencyInjection\Attribute\Autowire;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpKernel\Exception\TooManyRequestsHttpException;
use Symfony\Component\RateLimiter\RateLimiterFactoryInterface;

/** The public reading room: whether there is one, and how much somebody may ask of it. */
final readonly class PublicReading
{
    public function __construct(
        #[Autowire('%env(PUBLIC_READING)%')] private string $setting,
        #[Autowire(service: 'limiter.public_reading')] private RateLimiterFactoryInterface $limiter,
    ) {
    }

    public function isOn(): bool
    {
        return 'on' === $this->setting;
    }

    /** @throws TooManyRequestsHttpException */
    public function count(Request $request): void
    {
        $bytes = (string) @inet_pton((string) $request->getClientIp());
        // An address of version 6 belongs to a network of one house (RFC 6177).
        $network = 16 === \strlen($bytes) ? substr($bytes, 0, 8) : $bytes;
        $limit = $this->limiter->create(bin2hex($network))->consume();
        if (!$limit->isAccepted()) {
            throw new TooManyRequestsHttpException(max(1, $limit->getRetryAfter()->getTimestamp() - time()));
        }
    }
}
