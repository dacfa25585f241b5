<?php

declare(strict_types=1);

namespace Ypomna\App\Api;

use Symfony\Component\HttpFoundation\JsonResponse;
use Symfony\Component\HttpFoundation\Request;
use Symfony\Component\HttpKernel\Exception\BadRequestHttpException;
use Symfony\Component\HttpKernel\Exception\PreconditionFailedHttpException;
use Symfony\Component\HttpKernel\Exception\PreconditionRequiredHttpException;

/** What all answers to programs have in common. */
final class Answers
{
    public const MOST = 200;
    private const USUAL = 50;

    /**
     * @param array<string, mixed> $body
     * @param array<string, string> $fields of the head
     */
    public static function json(array $body, int $status = 200, array $fields = []): JsonResponse
    {
        $response = new JsonResponse(null, $status, $fields + ['Cache-Control' => 'no-store']);
        $response->setEncodingOptions(\JSON_UNESCAPED_UNICODE | \JSON_UNESCAPED_SLASHES | \JSON_INVALID_UTF8_SUBSTITUTE);
        $response->setData($body);
        if (\is_string($body['etag'] ?? null)) {
            $response->headers->set('ETag', '"'.$body['etag'].'"');
        }

        return $response;
    }

    /**
     * One page of a list.
     *
     * @param list<array<string, mixed>> $items one more than is shown, if there are more
     * @param \Closure(): string $next where the list goes on
     */
    public static function list(array $items, int $most, \Closure $next): JsonResponse
    {
        $more = \count($items) > $most;

        return self::json(['items' => \array_slice($items, 0, $most), 'next' => $more ? $next() : null]);
    }

    public static function moment(?\DateTimeImmutable $at): ?string
    {
        return $at?->setTimezone(new \DateTimeZone('UTC'))->format('Y-m-d\TH:i:s.u\Z');
    }

    /** How many things of a list are wanted. */
    public static function limit(Request $request): int
    {
        $value = $request->query->get('limit');
        if (null === $value) {
            return self::USUAL;
        }
        if (!\is_string($value) || 1 !== preg_match('/^\d{1,3}$/D', $value) || (int) $value < 1 || (int) $value > self::MOST) {
            throw new BadRequestHttpException();
        }

        return (int) $value;
    }

    /** Number of what was shown last of a list; 0 at the beginning. */
    public static function after(Request $request): int
    {
        $value = $request->query->get('after', '0');
        if (!\is_string($value) || 1 !== preg_match('/^\d{1,18}$/D', $value)) {
            throw new BadRequestHttpException();
        }

        return (int) $value;
    }

    /** A change is made to the state that its writer knows, or not at all. */
    public static function mustMatch(Request $request, string $etag): void
    {
        $given = $request->headers->get('If-Match');
        if (null === $given || '' === trim($given)) {
            throw new PreconditionRequiredHttpException();
        }
        foreach (explode(',', $given) as $one) {
            if ('"'.$etag.'"' === trim($one)) {
                return;
            }
        }
        throw new PreconditionFailedHttpException();
    }
}
