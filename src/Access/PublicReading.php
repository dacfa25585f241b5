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
        $limit = $this->limiter->create(ReaderNetwork::of($request->getClientIp()))->consume();
        if (!$limit->isAccepted()) {
            throw new TooManyRequestsHttpException(max(1, $limit->getRetryAfter()->getTimestamp() - time()));
        }
    }
}
