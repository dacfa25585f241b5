<?php

declare(strict_types=1);

namespace Ypomna\Core\Fetch;

/**
 * Writes both directions of an exchange to its files as the bytes pass.
 *
 * @internal
 */
final class ExchangeLog
{
    /** @var resource */
    private $request;
    /** @var resource */
    private $response;

    public function __construct(public readonly Exchange $exchange)
    {
        $this->request = self::open($exchange->requestPath);
        $this->response = self::open($exchange->responsePath);
    }

    public function __destruct()
    {
        fclose($this->request);
        fclose($this->response);
    }

    public function request(string $bytes): void
    {
        $this->put($this->request, $bytes);
        $this->exchange->requestBytes += \strlen($bytes);
    }

    public function response(string $bytes): void
    {
        $this->put($this->response, $bytes);
        $this->exchange->responseBytes += \strlen($bytes);
    }

    /**
     * @param resource $handle
     */
    private function put($handle, string $bytes): void
    {
        if (@fwrite($handle, $bytes) !== \strlen($bytes)) {
            throw new StorageFull('The disk took no more while an answer was being written down.');
        }
    }

    /**
     * @return resource
     */
    private static function open(string $path)
    {
        $handle = @fopen($path, 'x');
        if (false === $handle) {
            throw new StorageFull(\sprintf('The file “%s” cannot be made.', $path));
        }

        return $handle;
    }
}
