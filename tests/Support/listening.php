<?php

declare(strict_types=1);

/* What {@see Ypomna\Tests\Support\Listening} starts: a script of PHP's own server. */

$folder = (string) getenv('LISTENING_FOLDER');
$of = static fn (string $name): string => is_string($_SERVER[$name] ?? null) ? $_SERVER[$name] : '';
file_put_contents(sprintf('%s/sent-%.6F', $folder, microtime(true)), serialize([
    'method' => $of('REQUEST_METHOD'), 'path' => $of('REQUEST_URI'), 'fields' => array_change_key_case(getallheaders()),
    'body' => (string) file_get_contents('php://input'),
]));
$file = $folder.'/answer-'.hash('sha256', $of('REQUEST_URI'));
/** @var array{int, string, string} $answer */
$answer = is_file($file)
    ? unserialize((string) file_get_contents($file), ['allowed_classes' => false])
    : [404, 'text/plain', 'Nothing is said about this path.'];
http_response_code($answer[0]);
header('Content-Type: '.$answer[1]);
echo $answer[2];
